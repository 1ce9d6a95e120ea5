import { Button, Input, Select, Switch } from "antd";

import type { Override } from "../api/client";
import { useChosenPart } from "../state/openScene";
import { moved } from "../shared/moved";
import { NumberField } from "../shared/NumberField";
import { ink } from "../shared/theme";
import { changeSetup, useReceiver } from "./receiver";

const kinds: Override["kind"][] = ["look at", "hold", "add clip", "author"];
const titles: Record<Override["kind"], string> = {
  "look at": "turns a part to a place",
  hold: "keeps a part where it was",
  "add clip": "adds what a clip does",
  author: "what somebody tries while it plays",
};

/** What comes after the clips, in its order: the last one has the last word. */
export function Overrides() {
  const setup = useReceiver((state) => state.setup);
  const names = useReceiver((state) => state.played?.names) ?? [];
  const clips = useReceiver((state) => state.played?.clips) ?? [];
  const chosen = useChosenPart()?.name;
  const overrides = setup.overrides ?? [];
  const put = (next: Override[]) => { changeSetup({ overrides: next }); };
  const change = (n: number, what: Partial<Override>) => { put(overrides.map((one, m) => (m === n ? { ...one, ...what } : one))); };
  const add = (kind: Override["kind"]) => {
    const part = chosen !== undefined && names.includes(chosen) ? chosen : names.at(-1);
    const parts = part === undefined ? [] : [part];
    const extra = kind === "look at" ? { place: "look", axis: [0, 0, 1] as [number, number, number] } : kind === "add clip" ? { clip: clips[0]?.name ?? null, parts: [] } : kind === "author" ? { turn: [0, 30, 0] as [number, number, number] } : {};
    put([...overrides, { name: kind, kind, weight: 1, parts, on: true, ...extra }]);
  };
  return (
    <section aria-label="Overrides" style={{ gridColumn: "1 / -1", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 4 }}>
      <div style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <span className="caps" style={{ flex: 1 }}>overrides</span>
        <Select size="small" aria-label="Add an override" placeholder="+ override" style={{ width: 120 }} value={null} disabled={!names.length} options={kinds.map((value) => ({ value, label: value, title: titles[value] }))} onChange={(kind: Override["kind"] | null) => { if (kind) add(kind); }} />
      </div>
      {overrides.map((one, n) => (
        <div key={n} role="group" aria-label={`Override ${one.name}`} style={{ display: "flex", alignItems: "center", gap: 4, flexWrap: "wrap" }}>
          {one.kind === "author" ? (
            <Button size="small" title={one.on ? "The running program has its parts again" : "Shows what is tried again"} onClick={() => { change(n, { on: !one.on }); }}>{one.on ? "give back" : "preview"}</Button>
          ) : (
            <Switch size="small" aria-label={`${one.name} on`} checked={one.on ?? true} onChange={(on) => { change(n, { on }); }} />
          )}
          <span title={titles[one.kind]} style={{ width: 58 }}>{one.kind}</span>
          {one.kind === "add clip" && <Select size="small" aria-label="Clip that is added" style={{ width: 80 }} value={one.clip ?? null} options={clips.map(({ name }) => ({ value: name, label: name }))} onChange={(clip: string | null) => { change(n, { clip }); }} />}
          <Select size="small" mode="multiple" aria-label={`Parts of ${one.name}`} placeholder="all parts" maxTagCount={2} style={{ minWidth: 120, flex: 1 }} value={one.parts ?? []} options={names.map((value) => ({ value, label: value }))} onChange={(parts) => { change(n, { parts }); }} />
          {one.kind === "look at" && <Select size="small" aria-label="Axis that looks" style={{ width: 54 }} value={axisName(one.axis ?? [0, 0, 1])} options={Object.keys(axes).map((value) => ({ value, label: value }))} onChange={(axis) => { change(n, { axis: axes[axis] ?? [0, 0, 1] }); }} />}
          {one.kind === "author" && (["x", "y", "z"] as const).map((axis, k) => (
            <NumberField key={axis} label={`Turn ${axis}`} value={one.turn?.[k] ?? 0} text={`${String(one.turn?.[k] ?? 0)}°`} step={1} width={48} onCommit={(value) => { change(n, { turn: (one.turn ?? [0, 0, 0]).map((old, m) => (m === k ? value : old)) as [number, number, number] }); }} />
          ))}
          <span style={{ color: ink.quiet, fontSize: 12 }}>by</span>
          <Input size="small" aria-label={`Input of ${one.name}`} placeholder="always" title="An input from 0 to 1 that it is weighed by" style={{ width: 66 }} value={one.by ?? ""} onChange={(event) => { change(n, { by: event.target.value || null }); }} onKeyDown={(event) => { event.stopPropagation(); }} />
          <NumberField label={`Weight of ${one.name}`} value={one.weight ?? 1} text={String(one.weight ?? 1)} step={0.05} width={44} onCommit={(weight) => { change(n, { weight: Math.min(Math.max(weight, 0), 1) }); }} />
          <Button type="text" size="small" disabled={n === 0} aria-label={`${one.name} earlier`} style={{ width: 18, height: 18 }} onClick={() => { put(moved(overrides, n, n - 1)); }}>↑</Button>
          <Button type="text" size="small" aria-label={`Delete ${one.name}`} style={{ width: 18, height: 18 }} onClick={() => { put(overrides.filter((_, m) => m !== n)); }}>×</Button>
        </div>
      ))}
    </section>
  );
}

const axes: Record<string, [number, number, number]> = { "+x": [1, 0, 0], "−x": [-1, 0, 0], "+y": [0, 1, 0], "−y": [0, -1, 0], "+z": [0, 0, 1], "−z": [0, 0, -1] };

function axisName(axis: [number, number, number]): string {
  return Object.entries(axes).find(([, one]) => one.every((value, n) => value === axis[n]))?.[0] ?? "+z";
}
