import { Select } from "antd";
import type { ReactNode } from "react";

import type { OneEdit, StepView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { feed } from "../../state/samples";
import { byName } from "../../shared/byName";
import { brief, exact } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import type { Tap } from "../../shared/taps";
import { taps } from "../../shared/taps";
import { ink } from "../../shared/theme";
import type { Vector } from "./settings";

type Settings = NonNullable<Extract<OneEdit, { do?: "change step" }>["settings"]>;

/** Changes a step's settings: at once, or only tried. */
export function useStepChange(step: StepView) {
  const edit = useEdit();
  const changed = (settings: Settings): OneEdit => ({ do: "change step", step: step.id, settings });
  return {
    change: (settings: Settings) => void edit(changed(settings)),
    attempt: (settings: Settings) => { feed.tryOut([changed(settings)]); },
  };
}

/** A word before a field. */
export function Row({ label, title, children }: { label: string; title?: string; children: ReactNode }) {
  return (
    <div style={{ display: "flex", alignItems: "center", gap: 5, minHeight: 24, flexWrap: "wrap" }} title={title}>
      <span style={{ width: 48, flex: "none", color: ink.quiet, fontSize: 11.5 }}>{label}</span>
      {children}
    </div>
  );
}

interface VectorProps {
  label: string;
  value: Vector;
  unit: string;
  onTry: (value: Vector) => void;
  onCommit: (value: Vector) => void;
}

/** Three numbers. */
export function VectorFields({ label, value, unit, onTry, onCommit }: VectorProps) {
  const moved = (n: number, to: number) => value.map((old, m) => (m === n ? to : old)) as Vector;
  return (
    <span style={{ display: "flex", gap: 3 }}>
      {(["x", "y", "z"] as const).map((axis, n) => (
        <NumberField
          key={axis}
          label={`${label} ${axis}`}
          value={value[n] ?? 0}
          text={brief(value[n] ?? 0, unit, 4)}
          unit={unit}
          width={54}
          onTry={(to) => { onTry(moved(n, to)); }}
          onCommit={(to) => { onCommit(moved(n, to)); }}
        />
      ))}
    </span>
  );
}

interface PartProps {
  label: string;
  value: string;
  /** What stands for no part, e.g. the world. */
  none?: { value: string; label: string }[];
  without: string;
  width?: number;
  onChange: (part: string) => void;
}

/** A part, found by typing. */
export function PartSelect({ label, value, none = [], without, width = 108, onChange }: PartProps) {
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const options = [...none, ...order.filter((id) => id !== without).map((id) => ({ value: id, label: parts[id]?.name ?? id }))];
  return <Select size="small" aria-label={label} showSearch={byName} popupMatchSelectWidth={false} style={{ width }} value={value} options={options} onChange={onChange} />;
}

/** At which tap something is read. */
export function TapSelect({ label, value, onChange }: { label: string; value: Tap; onChange: (tap: Tap) => void }) {
  return <Select<Tap> size="small" aria-label={label} popupMatchSelectWidth={false} style={{ width: 74 }} value={value} options={taps.map((tap) => ({ value: tap, label: tap }))} onChange={onChange} />;
}

const named: [string, Vector][] = [
  ["x", [1, 0, 0]], ["y", [0, 1, 0]], ["z", [0, 0, 1]], ["−x", [-1, 0, 0]], ["−y", [0, -1, 0]], ["−z", [0, 0, -1]],
];

/** A direction along an axis. */
export function AxisSelect({ label, value, onChange }: { label: string; value: Vector; onChange: (axis: Vector) => void }) {
  const known = named.find(([, axis]) => axis.every((v, n) => v === value[n]))?.[0];
  const options = [...named.map(([name]) => ({ value: name, label: name })), ...(known ? [] : [{ value: "own", label: value.map(exact).join(", ") }])];
  return (
    <Select
      size="small"
      aria-label={label}
      popupMatchSelectWidth={false}
      style={{ width: 58 }}
      value={known ?? "own"}
      options={options}
      onChange={(name) => {
        const axis = named.find(([one]) => one === name)?.[1];
        if (axis) onChange(axis);
      }}
    />
  );
}
