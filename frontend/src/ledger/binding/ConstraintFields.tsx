import { Button, Select } from "antd";
import { useState } from "react";

import type { StepView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { usePlayer } from "../../state/player";
import { AxisSelect, PartSelect, Row, TapSelect, useStepChange, VectorFields } from "./fields";
import type { AimSettings, ConstraintSettings, Vector } from "./settings";
import { Targets } from "./Targets";

type Space = NonNullable<ConstraintSettings["read"]>;
const units = { position: "m", rotation: "°", scale: "", full: "" };

/** Targets, axes, offset and spaces of a constraint. */
export function ConstraintFields({ step, part, settings }: { step: StepView; part: string; settings: ConstraintSettings }) {
  const { change, attempt } = useStepChange(step);
  const axes = settings.axes ?? ["x", "y", "z"];
  const kind = settings.kind ?? "full";
  const turn = (axis: "x" | "y" | "z") => {
    const next = (["x", "y", "z"] as const).filter((one) => (one === axis) !== axes.includes(one));
    if (next.length) change({ ...settings, axes: next });
  };
  return (
    <div style={{ display: "grid", gap: 4, margin: "4px 0" }}>
      <Targets step={step} part={part} targets={settings.targets} onChange={(targets) => { change({ ...settings, targets }); }} />
      {kind !== "full" && (
        <Row label="axes">
          {(["x", "y", "z"] as const).map((axis) => (
            <Button key={axis} size="small" type={axes.includes(axis) ? "primary" : "default"} aria-pressed={axes.includes(axis)} aria-label={`${step.name} follows ${axis}`} style={{ paddingInline: 7 }} onClick={() => { turn(axis); }}>{axis}</Button>
          ))}
        </Row>
      )}
      <Row label="offset" title="Beyond the target; measured so that the part stays where it is on this frame">
        {kind !== "full" && (
          <VectorFields label={`${step.name} offset`} value={(settings.offset ?? [0, 0, 0]) as Vector} unit={units[kind]} onTry={(offset) => { attempt({ ...settings, offset }); }} onCommit={(offset) => { change({ ...settings, offset }); }} />
        )}
        <Measure step={step} />
      </Row>
      <SpaceRow step={step} part={part} label="read in" value={settings.read ?? {}} onChange={(read) => { change({ ...settings, read }); }} />
      <SpaceRow step={step} part={part} label="write in" value={settings.write ?? {}} onChange={(write) => { change({ ...settings, write }); }} />
    </div>
  );
}

/** Axis, up and targets of an aim. */
export function AimFields({ step, part, settings }: { step: StepView; part: string; settings: AimSettings }) {
  const { change, attempt } = useStepChange(step);
  // A part as up is stored once it is known which.
  const [asking, setAsking] = useState(false);
  const up = asking ? "part" : (settings.up ?? "direction");
  const upBy = (next: typeof up) => {
    const known = next !== "part" || settings.up_part != null;
    setAsking(!known);
    if (known) change({ ...settings, up: next });
  };
  const upPart = (up_part: string) => {
    setAsking(false);
    change({ ...settings, up: "part", up_part });
  };
  return (
    <div style={{ display: "grid", gap: 4, margin: "4px 0" }}>
      <Targets step={step} part={part} targets={settings.targets} onChange={(targets) => { change({ ...settings, targets }); }} />
      <Row label="axis" title="Which of its own axes looks at the target, and which one is up">
        <AxisSelect label={`${step.name} axis`} value={(settings.axis ?? [1, 0, 0]) as Vector} onChange={(axis) => { change({ ...settings, axis }); }} />
        <span>up</span>
        <AxisSelect label={`${step.name} up axis`} value={(settings.up_axis ?? [0, 1, 0]) as Vector} onChange={(up_axis) => { change({ ...settings, up_axis }); }} />
      </Row>
      <Row label="up by">
        <Select size="small" aria-label={`What is up for ${step.name}`} popupMatchSelectWidth={false} style={{ width: 92 }} value={up} options={[{ value: "direction", label: "direction" }, { value: "part", label: "a part" }, { value: "none", label: "least turn" }]} onChange={upBy} />
        {up === "direction" && <AxisSelect label={`${step.name} up direction`} value={(settings.up_direction ?? [0, 1, 0]) as Vector} onChange={(up_direction) => { change({ ...settings, up_direction }); }} />}
        {up === "part" && <PartSelect label={`${step.name} up part`} width={90} value={asking ? "" : (settings.up_part ?? "")} none={asking ? [{ value: "", label: "which …" }] : []} without={part} onChange={(id) => { if (id) upPart(id); }} />}
      </Row>
      <Row label="offset" title="Degrees, applied first">
        <VectorFields label={`${step.name} offset`} value={(settings.offset ?? [0, 0, 0]) as Vector} unit="°" onTry={(offset) => { attempt({ ...settings, offset }); }} onCommit={(offset) => { change({ ...settings, offset }); }} />
        <Measure step={step} />
      </Row>
    </div>
  );
}

function Measure({ step }: { step: StepView }) {
  const edit = useEdit();
  const measure = () => void edit({ do: "measure offset", step: step.id, frame: usePlayer.getState().frame });
  return <Button size="small" aria-label={`Measure the offset of ${step.name}`} title="Measures the offset again: the part stays where it would be without this step, on this frame" style={{ paddingInline: 6, fontSize: 11.5 }} onClick={measure}>measure</Button>;
}

interface SpaceProps {
  step: StepView;
  part: string;
  label: string;
  value: Space;
  onChange: (space: Space) => void;
}

/** A space: the world, the parent, locally, or in a part. */
function SpaceRow({ step, part, label, value, onChange }: SpaceProps) {
  const kind = value.kind ?? "world";
  return (
    <Row label={label}>
      <PartSelect
        label={`${step.name} ${label}`}
        value={kind === "part" ? (value.part ?? "") : `(${kind})`}
        none={["world", "parent", "local"].map((one) => ({ value: `(${one})`, label: one === "world" ? "the world" : one }))}
        without={part}
        width={150}
        onChange={(next) => {
          const given = /^\((world|parent|local)\)$/.exec(next)?.[1] as "world" | "parent" | "local" | undefined;
          onChange(given ? { kind: given } : { kind: "part", part: next });
        }}
      />
    </Row>
  );
}

/** At which tap the surroundings of a step are read. */
export function AroundRow({ step, tap, onChange }: { step: StepView; tap: "keyed" | "driven" | "bound" | "solved" | "late" | "final"; onChange: (tap: "keyed" | "driven" | "bound" | "solved" | "late" | "final") => void }) {
  return <Row label="around" title="At which tap its parent and its spaces are read"><TapSelect label={`${step.name} surroundings`} value={tap} onChange={onChange} /></Row>;
}
