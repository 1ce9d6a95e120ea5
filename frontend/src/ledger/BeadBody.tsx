import type { ReactNode } from "react";
import { useNavigate } from "react-router";

import type { BeadView, StepView } from "../api/client";
import { useEdit } from "../state/useEdit";
import { useOpenScene, usePart } from "../state/openScene";
import { usePlayer } from "../state/player";
import { chooseDriven } from "../state/posing";
import { feed } from "../state/samples";
import { inField } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { ink } from "../shared/theme";
import { giveValue, valueEdit } from "./channels/edits";
import { BindingFields, binds } from "./binding/BindingFields";
import { FormulaField } from "./formula/FormulaField";
import { isShaper } from "./shapers/kinds";
import { ShaperFields } from "./shapers/ShaperFields";
import { LimitFields } from "./LimitFields";

interface Props {
  bead: BeadView;
  step: StepView | undefined;
  part: string;
  unit: string;
  /** Whether the step is chosen: then its settings are shown. */
  open: boolean;
}

/** What a step of the ledger does, in words or as its settings. */
export function BeadBody(props: Props) {
  const { step } = props;
  return (
    <>
      <StepSettings {...props} />
      {step?.settings.kind === "driven keys" && <ToStops driven={step.settings.driven} />}
    </>
  );
}

function StepSettings({ bead, step, part, unit, open }: Props) {
  const owner = usePart(part);
  if (step && binds(step)) {
    const text = open && step.settings.kind === "limb" ? "" : bead.description;
    return <Folded text={text} open={open}><BindingFields step={step} part={part} /></Folded>;
  }
  if (step?.settings.kind === "formula") return <FormulaField step={step} settings={step.settings} reads={bead.reads} />;
  if (step?.settings.kind === "limit") return <LimitFields step={step} settings={step.settings} unit={unit} />;
  if (step && owner && isShaper(step.settings)) {
    return <Folded text={bead.description} open={open}><ShaperFields step={step} part={owner} settings={step.settings} /></Folded>;
  }
  if (bead.kind === "value") return <OwnValue part={part} bead={bead} unit={unit} />;
  return <div className="mono" style={{ fontSize: 11.5, color: ink.quiet }}>{bead.description}</div>;
}

/** What a step says of itself; its settings while it is chosen. */
function Folded({ text, open, children }: { text: string; open: boolean; children: ReactNode }) {
  return (
    <>
      {text && <div className="mono" style={{ fontSize: 11.5, color: ink.quiet, overflowWrap: "anywhere" }}>{text}</div>}
      {open ? children : <div style={{ fontSize: 11.5, color: ink.quiet }}>choose it for its settings</div>}
    </>
  );
}

/** Opens the stops sheet that a row belongs to. */
function ToStops({ driven }: { driven: string }) {
  const navigate = useNavigate();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const open = () => {
    chooseDriven(driven);
    void navigate(`/scenes/${String(sceneId)}/stops${window.location.search}`);
  };
  return (
    <button type="button" title="Open its stops sheet" onClick={open} style={{ all: "unset", cursor: "pointer", fontSize: 11.5, textDecoration: "underline dotted" }}>
      stops sheet
    </button>
  );
}

/** What a channel without keys is set to. */
function OwnValue({ part: id, bead, unit }: { part: string; bead: BeadView; unit: string }) {
  const edit = useEdit();
  const part = usePart(id);
  const name = bead.outgoing?.split("/")[1];
  const channel = part?.channels.find((one) => one.id === name);
  if (!part || !channel) return null;
  const edited = (value: number) => valueEdit([[part.id, channel]], 0, value);
  return (
    <div style={{ display: "flex", alignItems: "center", gap: 8, margin: "2px 0" }}>
      <span className="mono" style={{ flex: 1, fontSize: 11.5, color: ink.quiet }}>
        {bead.description}
      </span>
      <NumberField
        label={`set value of ${part.name}.${channel.name}`}
        value={channel.value}
        text={inField(channel.value, unit)}
        unit={unit}
        fixed={channel.locked}
        onTry={(value) => {
          feed.tryOut([edited(value)]);
        }}
        onCommit={(value) => {
          giveValue(edit, [[part.id, channel]], usePlayer.getState().frame, value);
        }}
      />
    </div>
  );
}
