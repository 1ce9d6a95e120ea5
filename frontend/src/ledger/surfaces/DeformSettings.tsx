import { Segmented, Select } from "antd";

import type { DeformHead, OneEdit, SurfaceHead } from "../../api/client";
import { usePart } from "../../state/openScene";
import { deformKeys } from "../../state/surfacePoints";
import { useEdit } from "../../state/useEdit";
import { shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { TextField } from "../../shared/TextField";
import { ink } from "../../shared/theme";
import { ChannelRow } from "../channels/ChannelRow";
import { writersOf } from "../channels/writers";
import { Shapes } from "./Shapes";
import { Weights } from "./Weights";

type Props = Readonly<{ surface: SurfaceHead; step: DeformHead }>;
const none: never[] = [];

/** A step's name, its channels and what else belongs to its kind. */
export function DeformSettings({ surface, step }: Props) {
  const edit = useEdit();
  const part = usePart(surface.part);
  const keys = deformKeys(step).map((key) => `${surface.id}.${step.id}.${key}`);
  const channels = part?.channels.filter((channel) => keys.includes(channel.id)) ?? none;
  const change = (what: Partial<Extract<OneEdit, { do: "change deform" }>>) => edit({ do: "change deform", surface: surface.id, step: step.id, ...what });
  return (
    <div style={{ marginLeft: 26, padding: "4px 0 8px", display: "grid", gap: 4, borderLeft: `2px solid ${ink.line}` }}>
      <div style={{ paddingInline: 12 }}><TextField label={`Name of ${step.name}`} value={step.name} width="100%" onCommit={(name) => change({ name })} /></div>
      {part && channels.map((channel) => (
        <ChannelRow key={channel.id} partId={part.id} partName={part.name} channel={{ ...channel, name: channel.name.slice(surface.name.length + 1) }} writers={writersOf(part, channel)} />
      ))}
      {step.kind === "subdivide" && (
        <div style={line}>
          <span style={{ flex: 1, color: ink.quiet }}>rounds</span>
          <Segmented size="small" aria-label="Rounds of subdivision" value={step.rounds ?? 1} options={[1, 2]} onChange={(rounds) => void change({ rounds })} />
        </div>
      )}
      {step.kind === "displace" && <Displacing step={step} change={change} />}
      {step.kind === "blend shapes" && <Shapes surface={surface} step={step} />}
      {step.kind === "bend by joints" && <Weights surface={surface} step={step} />}
    </div>
  );
}

const line = { display: "flex", alignItems: "center", gap: 4, paddingInline: 12 } as const;

function Displacing({ step, change }: { step: DeformHead; change: (what: Partial<Extract<OneEdit, { do: "change deform" }>>) => Promise<boolean> }) {
  const axis = step.axis ?? [1, 0, 0];
  const noise = step.form === "noise";
  return (
    <>
      <div style={line}>
        <span style={{ flex: 1, color: ink.quiet }}>form</span>
        <Select size="small" aria-label="Form of the displacement" style={{ width: 96 }} value={step.form ?? "waves"} options={["waves", "noise"].map((value) => ({ value, label: value }))} onChange={(form) => void change({ form: form as "waves" | "noise" })} />
      </div>
      <div style={line}>
        <span style={{ flex: 1, color: ink.quiet }} title={noise ? "Along which the noise drifts with its shift" : "Along which the waves go"}>axis</span>
        {(["x", "y", "z"] as const).map((name, n) => (
          <NumberField key={name} label={`Axis ${name} of ${step.name}`} value={axis[n] ?? 0} text={shown(axis[n] ?? 0, "", 2)} step={0.1} width={50} onCommit={(value) => void change({ axis: axis.map((old, m) => (m === n ? value : old)) as [number, number, number] })} />
        ))}
      </div>
      {noise && (
        <div style={line}>
          <span style={{ flex: 1, color: ink.quiet }}>seed</span>
          <NumberField label={`Seed of ${step.name}`} value={step.seed ?? 0} text={String(step.seed ?? 0)} step={1} width={60} onCommit={(value) => void change({ seed: Math.round(value) })} />
        </div>
      )}
    </>
  );
}
