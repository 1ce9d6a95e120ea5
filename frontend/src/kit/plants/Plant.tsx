import { Button } from "antd";
import { useState } from "react";

import { PlantFields } from "../../ledger/binding/PlantFields";
import { useChosenPart, useOpenScene } from "../../state/openScene";
import { openForm } from "../../state/kit";
import { usePlayer } from "../../state/player";
import { useCommand } from "../../state/useEdit";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";

/** When a part stands still, and what of it. */
export function PlantForm({ id }: { id: string }) {
  const part = useOpenScene((scene) => Object.values(scene.parts).find((one) => one.steps.some((step) => step.id === id)));
  const step = part?.steps.find((one) => one.id === id);
  if (!part || step?.settings.kind !== "plant") return null;
  return (
    <>
      <span style={{ fontSize: 12 }}>of <strong>{part.name}</strong></span>
      <PlantFields step={step} settings={step.settings} />
    </>
  );
}

/** Plants the chosen part from this frame on. */
export function MakePlant({ onMade }: { onMade: () => void }) {
  const command = useCommand();
  const part = useChosenPart();
  const frame = usePlayer((player) => player.frame);
  const last = useOpenScene((scene) => scene.header.last);
  const [span, setSpan] = useState<[number, number] | null>(null);
  const [from, to] = span ?? [frame, Math.min(frame + 12, last)];
  if (!part) return <p style={{ margin: 0, color: ink.quiet }}>Choose the part that is to stand still.</p>;
  const done = () => {
    onMade();
    // A part that is planted already has another span.
    const plant = useOpenScene.getState().parts[part.id]?.steps.find(({ settings }) => settings.kind === "plant");
    if (plant) openForm("plants", plant.id);
  };
  const make = () => void command(done, { do: "plant part", part: part.id, first: from, last: to });
  return (
    <div style={{ display: "grid", gap: 5 }}>
      <span style={{ fontSize: 12 }}><strong>{part.name}</strong> stands still in the world, where it is on the first of these frames:</span>
      <span style={{ display: "flex", gap: 6, alignItems: "center", fontSize: 12 }}>
        <NumberField label="First frame of the plant" value={from} text={String(from)} step={1} width={52} onCommit={(value) => { setSpan([Math.round(value), to]); }} />
        …
        <NumberField label="Last frame of the plant" value={to} text={String(to)} step={1} width={52} onCommit={(value) => { setSpan([from, Math.round(value)]); }} />
        <Button size="small" type="primary" onClick={make}>Plant it</Button>
      </span>
    </div>
  );
}
