import { Segmented } from "antd";

import { Kit } from "../kit/Kit";
import { PartsTree } from "../parts/PartsTree";
import { useKit } from "../state/kit";

/** What the scene holds: the tree of parts, and the kit: sets, layers, limbs and all else by kind. */
export function LeftPanel() {
  const tab = useKit((kit) => kit.tab);
  return (
    <>
      <div style={{ padding: "6px 10px 0" }}>
        <Segmented<"parts" | "kit">
          block
          size="small"
          aria-label="What the left panel shows"
          value={tab}
          onChange={(value) => { useKit.setState({ tab: value }); }}
          options={[
            { value: "parts", label: "parts" },
            { value: "kit", label: <span title="Sets, layers, limbs, lead groups, gaits, plants, surfaces, slip probes, rules">kit</span> },
          ]}
        />
      </div>
      {tab === "parts" ? <PartsTree /> : <Kit />}
    </>
  );
}
