import { Segmented } from "antd";
import type { ReactNode } from "react";
import { useState } from "react";

import { useOpenScene } from "../state/openScene";
import { Layers } from "../kit/layers/Layers";
import { Limbs } from "../kit/limbs/Limbs";
import { PartsTree } from "../parts/PartsTree";
import { Rules } from "../kit/rules/Rules";
import { Sets } from "../parts/sets/Sets";
import { SlipProbes } from "../kit/slip/SlipProbes";
import { Surfaces } from "../kit/surfaces/Surfaces";

type Tab = "parts" | "sets" | "layers" | "limbs" | "skin" | "slip" | "rules";

const panels: Record<Tab, ReactNode> = {
  parts: <PartsTree />,
  sets: <Sets />,
  layers: <Layers />,
  limbs: <Limbs />,
  skin: <Surfaces />,
  slip: <SlipProbes />,
  rules: <Rules />,
};

const small = { fontSize: 11.5, marginInline: -9 } as const;

/** What the scene holds: the tree of parts, sets of them, and layers of curves. */
export function LeftPanel() {
  const [tab, setTab] = useState<Tab>("parts");
  const sets = useOpenScene((scene) => scene.header.sets.length);
  const layers = useOpenScene((scene) => scene.header.layers.length);
  const limbs = useOpenScene((scene) => scene.header.limbs.length);
  const counted = (word: string, count: number) => <span style={small} title={`${String(count)} ${word}`}>{word}</span>;
  return (
    <>
      <div style={{ padding: "6px 10px 0" }}>
        <Segmented<Tab>
          block
          size="small"
          aria-label="What the left panel shows"
          value={tab}
          onChange={setTab}
          options={[
            { value: "parts", label: <span style={small}>parts</span> },
            { value: "sets", label: counted("sets", sets) },
            { value: "layers", label: counted("layers", layers) },
            { value: "limbs", label: counted("limbs", limbs) },
            { value: "skin", label: <span style={small} title="Surfaces: cages, and the steps that deform them">skin</span> },
            { value: "slip", label: <span style={small} title="Slip probes">slip</span> },
            { value: "rules", label: <span style={small} title="Wiring by name">rules</span> },
          ]}
        />
      </div>
      {panels[tab]}
    </>
  );
}
