import { Button } from "antd";

import type { StepView } from "../../api/client";
import type { KitName } from "../../state/kit";
import { showInKit } from "../../state/kit";
import { useOpenScene } from "../../state/openScene";
import { ink } from "../../shared/theme";
import { LimbCard } from "../limbs/LimbCard";
import { AimFields, ConstraintFields } from "./ConstraintFields";
import { FollowFields, PathFields, SpaceFields } from "./OtherFields";
import { PlantFields } from "./PlantFields";
import { isConstraint } from "./settings";

/** The settings of a step that binds whole groups. */
export function BindingFields({ step, part }: { step: StepView; part: string }) {
  const { settings } = step;
  if (settings.kind === "aim") return <AimFields step={step} part={part} settings={settings} />;
  if (settings.kind === "path") return <PathFields step={step} part={part} settings={settings} />;
  if (settings.kind === "follow") return <FollowFields step={step} settings={settings} />;
  if (settings.kind === "space") return <SpaceFields step={step} part={part} settings={settings} />;
  if (settings.kind === "plant") return <PlantFields step={step} settings={settings} />;
  if (settings.kind === "limb") return <LimbFields limb={settings.limb} />;
  if (settings.kind === "lead") return <Member step={step} kind="lead groups" id={settings.lead} />;
  if (settings.kind === "walk") return <Member step={step} kind="gaits" id={settings.gait} />;
  if (isConstraint(settings)) return <ConstraintFields step={step} part={part} settings={settings} />;
  return <div style={{ fontSize: 11.5, color: ink.quiet }}>{step.description}</div>;
}

/** What a part is a member of, and where that is changed. */
function Member({ step, kind, id }: { step: StepView; kind: KitName; id: string }) {
  return (
    <div style={{ fontSize: 11.5, color: ink.quiet }}>
      {step.description}
      <div><InKit kind={kind} id={id} /></div>
    </div>
  );
}

/** The limb that a part of a chain belongs to, as in the list of limbs. */
function LimbFields({ limb: id }: { limb: string }) {
  const limb = useOpenScene((scene) => scene.header.limbs.find((one) => one.id === id));
  if (!limb) return null;
  return (
    <>
      <LimbCard limb={limb} />
      <InKit kind="limbs" id={id} />
    </>
  );
}

/** The way to the form of what a step belongs to. */
function InKit({ kind, id }: { kind: KitName; id: string }) {
  return <Button size="small" style={{ marginTop: 4 }} title="Its form, where it is renamed and deleted, in the list of all of its kind" onClick={() => { showInKit(kind, id); }}>in the kit</Button>;
}

/** Whether a step has such settings. */
export function binds(step: StepView | undefined): boolean {
  return step !== undefined && !("channel" in step.settings);
}
