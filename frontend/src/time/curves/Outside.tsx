import { Select, Space } from "antd";
import { memo } from "react";

import type { Curve } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { ink } from "../../shared/theme";

type Way = NonNullable<Curve["before"]>;
const ways: Way[] = ["hold", "straight on", "repeat", "repeat with offset", "mirror"];

interface Props {
  part: string;
  channel: string;
  before: Way;
  after: Way;
}

/** What a curve does before its first and after its last key. */
export const Outside = memo(function Outside({ part, channel, before, after }: Props) {
  const edit = useEdit();
  const options = ways.map((value) => ({ value, label: value }));
  return (
    <Space size={6}>
      {(["before", "after"] as const).map((end) => (
        <label key={end} style={{ color: ink.quiet }}>
          {end}{" "}
          <Select
            size="small"
            aria-label={`${end} the keys`}
            style={{ width: 104 }}
            popupMatchSelectWidth={false}
            value={end === "before" ? before : after}
            options={options}
            onChange={(value) =>
              void edit({
                do: "set outside",
                part,
                channel,
                ...(end === "before" ? { before: value } : { after: value }),
              })
            }
          />
        </label>
      ))}
    </Space>
  );
});
