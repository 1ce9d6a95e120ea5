import { Segmented } from "antd";
import { useState } from "react";

import { useOpenScene } from "../state/openScene";
import { Layers } from "./layers/Layers";
import { PartsTree } from "./parts/PartsTree";
import { Sets } from "./sets/Sets";

type Tab = "parts" | "sets" | "layers";

/** What the scene holds: the tree of parts, sets of them, and layers of curves. */
export function LeftPanel() {
  const [tab, setTab] = useState<Tab>("parts");
  const sets = useOpenScene((scene) => scene.header.sets.length);
  const layers = useOpenScene((scene) => scene.header.layers.length);
  const counted = (word: string, count: number) => (count ? `${word} ${String(count)}` : word);
  return (
    <>
      <div style={{ padding: "6px 10px 0" }}>
        <Segmented<Tab>
          block
          size="small"
          aria-label="Parts, sets or layers"
          value={tab}
          onChange={setTab}
          options={[
            { value: "parts", label: "parts" },
            { value: "sets", label: counted("sets", sets) },
            { value: "layers", label: counted("layers", layers) },
          ]}
        />
      </div>
      {tab === "parts" ? <PartsTree /> : tab === "sets" ? <Sets /> : <Layers />}
    </>
  );
}
