import { Select } from "antd";

import type { PartView } from "../../api/client";
import { unitIn, useChosenPart, useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { byName } from "../../shared/byName";
import { NumberField } from "../../shared/NumberField";
import { shown } from "../../shared/format";
import { TextField } from "../../shared/TextField";
import type { SideChoice } from "./sides";
import { stepOf, zones } from "./sides";

interface Props {
  label: string;
  choice: SideChoice;
  onChange: (choice: SideChoice) => void;
}

/** Chooses one side: now, an earlier edit, a step changed, or another number. */
export function ChooseSide({ label, choice, onChange }: Props) {
  const parts = useOpenScene((scene) => scene.parts);
  const revision = useOpenScene((scene) => scene.header.revision);
  const part = useChosenPart();
  const chosen = useSelection((selection) => selection.step);
  const step = "step" in choice ? choice.step : (part?.steps.find(({ id }) => id === chosen) ?? part?.steps[0])?.id;
  const found = step === undefined ? undefined : stepOf(parts, step);
  const value = choice.kind === "zone" ? `zone ${choice.zone}` : choice.kind;
  return (
    <div style={{ display: "grid", gridTemplateColumns: "48px minmax(0, 1fr)", gap: "3px 4px", alignItems: "center" }}>
      <span style={{ fontSize: 12 }}>{label}</span>
      <Select
        size="small"
        aria-label={`What is ${label}`}
        popupMatchSelectWidth={false}
        value={value}
        options={[
          { value: "now", label: "as it is now" },
          { value: "revision", label: "as it was after an edit" },
          { value: "number", label: "with another number" },
          ...(found ? stepOptions(found.step.name, found.part.name, found.step) : []),
        ]}
        onChange={(next) => { onChange(picked(next, step, part, revision)); }}
      />
      {choice.kind !== "now" && choice.kind !== "muted" && choice.kind !== "zone" && (
        <span style={{ gridColumn: 2, display: "flex", gap: 4, alignItems: "center" }}><Detail label={label} choice={choice} onChange={onChange} /></span>
      )}
    </div>
  );
}

function stepOptions(name: string, part: string, step: { on: boolean; zone: string; settings: { kind?: string } }) {
  return [
    { value: "muted", label: `with “${name}” of ${part} ${step.on ? "muted" : "on"}` },
    ...zones.filter((zone) => zone !== step.zone).map((zone) => ({ value: `zone ${zone}`, label: `with “${name}” of ${part} in ${zone}` })),
    ...(step.settings.kind === "formula" ? [{ value: "formula", label: `with another formula in “${name}” of ${part}` }] : []),
  ];
}

function picked(value: string, step: string | undefined, part: PartView | undefined, revision: number): SideChoice {
  if (value === "now") return { kind: "now" };
  if (value === "revision") return { kind: "revision", revision: Math.max(revision - 1, 0) };
  if (value === "number") {
    const { parts, order } = useOpenScene.getState();
    const first = part ?? parts[order[0] ?? ""];
    const channel = first?.channels.find((one) => !one.curve);
    return { kind: "number", part: first?.id ?? "", channel: channel?.id ?? "", value: channel?.value ?? 0 };
  }
  if (step === undefined) return { kind: "now" };
  if (value === "muted") return { kind: "muted", step };
  const found = stepOf(useOpenScene.getState().parts, step)?.step;
  if (value === "formula") return { kind: "formula", step, text: found?.settings.kind === "formula" ? found.settings.text : "" };
  const zone = zones.find((one) => value === `zone ${one}`);
  return zone ? { kind: "zone", step, zone } : { kind: "now" };
}

function Detail({ label, choice, onChange }: Props) {
  const revision = useOpenScene((scene) => scene.header.revision);
  if (choice.kind === "revision") {
    return <>edit <NumberField label={`Edit of ${label}`} value={choice.revision} text={String(choice.revision)} step={1} width={52} onCommit={(value) => { onChange({ ...choice, revision: Math.min(Math.max(Math.round(value), 0), revision) }); }} /> of {revision}</>;
  }
  if (choice.kind === "formula") {
    return <TextField mono label={`Formula of ${label}`} value={choice.text} onCommit={(text) => { onChange({ ...choice, text }); return Promise.resolve(true); }} />;
  }
  return choice.kind === "number" ? <OtherNumber label={label} choice={choice} onChange={onChange} /> : null;
}

/** Any channel without keys, and its value. */
function OtherNumber({ label, choice, onChange }: Props & { choice: Extract<SideChoice, { kind: "number" }> }) {
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const unit = unitIn(parts, choice.part, choice.channel);
  const options = order.flatMap((id) => (parts[id]?.channels ?? []).filter((one) => !one.curve).map((one) => ({ value: `${id}/${one.id}`, label: `${parts[id]?.name ?? ""}.${one.name}` })));
  return (
    <>
      <Select
        size="small"
        showSearch={byName}
        aria-label={`Channel of ${label}`}
        popupMatchSelectWidth={false}
        style={{ width: 150 }}
        value={`${choice.part}/${choice.channel}`}
        options={options}
        onChange={(key) => {
          const [part = "", channel = ""] = key.split("/");
          onChange({ ...choice, part, channel, value: parts[part]?.channels.find(({ id }) => id === channel)?.value ?? 0 });
        }}
      />
      <NumberField label={`Number of ${label}`} value={choice.value} text={shown(choice.value, unit)} unit={unit} width={72} onTry={(value) => { onChange({ ...choice, value }); }} onCommit={(value) => { onChange({ ...choice, value }); }} />
    </>
  );
}
