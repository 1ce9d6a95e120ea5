import { Select, Space } from "antd";

import type { Curve } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { ink } from "../../shared/theme";

const ways = ["hold", "straight on", "repeat", "repeat with offset", "mirror"] as const;

/** What a curve does before its first and after its last key. */
export function Outside({ part, channel, curve }: { part: string; channel: string; curve: Curve }) {
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
            value={curve[end] ?? "hold"}
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
}
