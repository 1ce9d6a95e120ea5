import { Button, Select } from "antd";
import { useState } from "react";

import type { Limb } from "../../api/client";
import { useCommand } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { chooseParts } from "../../state/selection";
import { shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { PartSelect, Row } from "../binding/fields";

const points = ["heel", "outer", "inner", "toe tip", "ball"];
const ways: Record<string, [number, number, number]> = { "+z": [0, 0, 1], "−z": [0, 0, -1], "+x": [1, 0, 0], "−x": [-1, 0, 0] };

/** Makes a foot in two steps: its points are added and put where they belong, then it rolls on them. */
export function FootMenu({ limb, onDone }: { limb: Limb; onDone: () => void }) {
  const command = useCommand();
  const parts = useOpenScene((scene) => scene.parts);
  const [length, setLength] = useState(0.25);
  const [height, setHeight] = useState(0.08);
  const [way, setWay] = useState("+z");
  const [toes, setToes] = useState("");
  const found = points.map((name) => Object.values(parts).find((part) => part.name === `${limb.name} ${name}` && part.parent === limb.goal)?.id);
  const there = found.filter((id) => id !== undefined);
  const frame = usePlayer.getState().frame;
  if (there.length < points.length) {
    return (
      <div style={{ display: "grid", gap: 6, width: 270 }}>
        <span style={{ fontSize: 12, color: ink.quiet }}>First its points: heel, both edges, toe tip and ball, below the goal. Drag them to where the foot touches the ground.</span>
        <span>
          foot <NumberField label="Length of the foot" value={length} text={shown(length, "m", 2)} unit="m" width={70} onCommit={setLength} />{" "}
          ankle <NumberField label="Height of the ankle" value={height} text={shown(height, "m", 2)} unit="m" width={70} onCommit={setHeight} /> high
        </span>
        <span>toes point to <Select size="small" aria-label="Where the toes point" value={way} options={Object.keys(ways).map((value) => ({ value, label: value }))} onChange={setWay} /></span>
        <Button size="small" type="primary" style={{ justifySelf: "start" }} onClick={() => void command(() => undefined, { do: "add foot points", limb: limb.id, frame, length, height, forward: ways[way] ?? [0, 0, 1] })}>Add its points</Button>
      </div>
    );
  }
  return (
    <div style={{ display: "grid", gap: 6, width: 270 }}>
      <span style={{ fontSize: 12, color: ink.quiet }}>The points are there. Put them where the foot touches the ground, then make the foot: helpers and formulas that can be read and changed in the ledger.</span>
      <Button size="small" style={{ justifySelf: "start" }} onClick={() => { chooseParts(there); onDone(); }}>Choose the points</Button>
      <Row label="toes" title="A part behind the end of the chain that stays flat while the ball rolls">
        <PartSelect label="Toes of the foot" value={toes} none={[{ value: "", label: "none" }]} without={limb.chain?.at(-1) ?? ""} onChange={setToes} />
      </Row>
      <Button size="small" type="primary" style={{ justifySelf: "start" }} onClick={() => void command(onDone, { do: "make foot", limb: limb.id, frame, toes: toes || null })}>Make the foot</Button>
    </div>
  );
}
