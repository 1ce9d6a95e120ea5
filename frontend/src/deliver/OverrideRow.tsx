import { Button, Select, Switch } from "antd";

import type { Override } from "../api/client";
import { NumberField } from "../shared/NumberField";
import { TextField } from "../shared/TextField";
import { ink } from "../shared/theme";
import { MakeRules, MovedByInput } from "./MovedByInput";
import { useReceiver } from "./receiver";

export const titles: Record<Override["kind"], string> = {
  "look at": "turns a part to a place",
  hold: "keeps a part where it was",
  "by input": "moves parts by their names",
  "add clip": "adds what a clip does",
  author: "what somebody tries while it plays",
};

type Change = (what: Partial<Override>) => Promise<boolean>;

/** One override: whether it is on, its parts, what is its own, and what weighs it. */
export function OverrideRow({ one, onChange, onEarlier, onDelete }: { one: Override; onChange: Change; onEarlier?: () => void; onDelete: () => void }) {
  const names = useReceiver((state) => state.played?.names) ?? [];
  const many = one.kind === "by input";
  return (
    <div role="group" aria-label={`Override ${one.name}`} style={{ display: "flex", alignItems: "center", gap: 4, flexWrap: "wrap" }}>
      {one.kind === "author" ? (
        <Button size="small" title={one.on === false ? "Shows what is tried again" : "The running program has its parts again"} onClick={() => { void onChange({ on: one.on === false }); }}>{one.on === false ? "preview" : "give back"}</Button>
      ) : (
        <Switch size="small" aria-label={`${one.name} on`} checked={one.on ?? true} onChange={(on) => { void onChange({ on }); }} />
      )}
      <span title={titles[one.kind]} style={{ width: 58 }}>{one.kind}</span>
      {!many && <Parts one={one} names={names} onChange={onChange} />}
      <Own one={one} onChange={onChange} />
      {many && <span style={{ flex: 1 }} />}
      <span style={{ color: ink.quiet, fontSize: 12 }}>by</span>
      <span title="An input from 0 to 1 that it is weighed by"><TextField label={`Input of ${one.name}`} placeholder="always" width={66} value={one.by ?? ""} onCommit={(text) => onChange({ by: text.trim() || null })} /></span>
      <NumberField label={`Weight of ${one.name}`} value={one.weight ?? 1} text={String(one.weight ?? 1)} step={0.05} width={44} onCommit={(weight) => { void onChange({ weight: Math.min(Math.max(weight, 0), 1) }); }} />
      <Button type="text" size="small" disabled={!onEarlier} aria-label={`${one.name} earlier`} title="Comes earlier, and gives way to more" style={{ width: 18, height: 18 }} onClick={onEarlier}>↑</Button>
      <Button type="text" size="small" aria-label={`Delete ${one.name}`} style={{ width: 18, height: 18 }} onClick={onDelete}>×</Button>
      {many && (
        <div style={{ width: "100%", display: "flex", alignItems: "center", gap: 6, paddingLeft: 36 }}>
          <Parts one={one} names={names} onChange={onChange} />
          <Found one={one} names={names} />
          <MakeRules />
        </div>
      )}
    </div>
  );
}

/** The names of its parts: chosen from the file's, or for what is moved by name also typed and pasted. */
function Parts({ one, names, onChange }: { one: Override; names: string[]; onChange: Change }) {
  const many = one.kind === "by input";
  return (
    <Select
      size="small"
      mode={many ? "tags" : "multiple"}
      tokenSeparators={[",", ";", "\n", "\t"]}
      aria-label={`Parts of ${one.name}`}
      placeholder={many ? "names, also pasted" : "all parts"}
      maxTagCount="responsive"
      style={{ minWidth: 120, flex: 1 }}
      value={one.parts ?? []}
      options={names.map((value) => ({ value, label: value }))}
      onChange={(parts: string[]) => { void onChange({ parts }); }}
    />
  );
}

/** What an override of its kind has of its own. */
function Own({ one, onChange }: { one: Override; onChange: Change }) {
  const clips = useReceiver((state) => state.played?.clips) ?? [];
  if (one.kind === "look at") return <Select size="small" aria-label="Axis that looks" style={{ width: 54 }} value={axisName(one.axis ?? [0, 0, 1])} options={Object.keys(axes).map((value) => ({ value, label: value }))} onChange={(axis: string) => { void onChange({ axis: axes[axis] ?? [0, 0, 1] }); }} />;
  if (one.kind === "add clip") return <Select size="small" aria-label="Clip that is added" style={{ width: 80 }} value={one.clip ?? null} options={clips.map(({ name }) => ({ value: name, label: name }))} onChange={(clip: string | null) => { void onChange({ clip }); }} />;
  if (one.kind === "by input") return <MovedByInput one={one} onChange={onChange} />;
  if (one.kind === "hold") return null;
  const turn = one.turn ?? [0, 0, 0];
  return (["x", "y", "z"] as const).map((axis, k) => (
    <NumberField key={axis} label={`Turn ${axis}`} value={turn[k] ?? 0} text={`${String(turn[k] ?? 0)}°`} step={1} width={48} onCommit={(value) => { void onChange({ turn: turn.map((old, m) => (m === k ? value : old)) as [number, number, number] }); }} />
  ));
}

/** Which of the names the file has, and which not. */
function Found({ one: { parts = [] }, names }: { one: Override; names: string[] }) {
  const missing = parts.filter((name) => !names.includes(name));
  return (
    <span role="status" title={missing.join(", ")} style={{ fontSize: 12, color: missing.length ? ink.trouble : ink.quiet }}>
      {parts.length - missing.length} of {parts.length} in the file{missing.length ? `; not: ${missing.slice(0, 4).join(", ")}${missing.length > 4 ? " …" : ""}` : ""}
    </span>
  );
}

const axes: Record<string, [number, number, number]> = { "+x": [1, 0, 0], "−x": [-1, 0, 0], "+y": [0, 1, 0], "−y": [0, -1, 0], "+z": [0, 0, 1], "−z": [0, 0, -1] };

function axisName(axis: [number, number, number]): string {
  return Object.entries(axes).find(([, one]) => one.every((value, n) => value === axis[n]))?.[0] ?? "+z";
}
