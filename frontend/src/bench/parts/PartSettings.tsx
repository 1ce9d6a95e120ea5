import { Select } from "antd";

import type { PartView } from "../../api/client";
import { useEdit } from "../../shell/useEdit";
import { useOpenScene } from "../../state/openScene";
import { feed } from "../../state/samples";
import { shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../theme";

const roles = ["control", "joint", "helper", "prop"] as const;
const sides = ["left", "centre", "right"] as const;
const orders = ["xyz", "xzy", "yxz", "yzx", "zxy", "zyx"] as const;
const shapes = ["none", "box", "ball", "rod", "wheel", "ring", "axes"] as const;
const axes = ["x", "y", "z"] as const;

/** What a part is apart from its channels: role, side, rotation order, rest, shape. */
export function PartSettings({ part }: { part: PartView }) {
  const edit = useEdit();
  const change = { do: "change part" as const, part: part.id };
  return (
    <div style={{ padding: "4px 12px 10px", display: "grid", gap: 5 }} aria-label="Part settings" role="group">
      <Row label="role">
        <Choice label="role" value={part.role} options={roles} onChange={(role) => void edit({ ...change, role })} />
        <Choice label="side" value={part.side} options={sides} onChange={(side) => void edit({ ...change, side })} />
      </Row>
      <Row label="below">
        <Parent part={part} />
      </Row>
      <Row label="order">
        <Choice label="rotation order" value={part.rotation_order} options={orders} onChange={(order) => void edit({ ...change, rotation_order: order })} />
        <Choice label="shape" value={part.shape.kind ?? "none"} options={shapes} onChange={(kind) => void edit({ ...change, shape: { ...part.shape, kind } })} />
      </Row>
      <Three label="rest at" unit="m" values={part.rest.translation ?? [0, 0, 0]} editOf={(translation) => ({ ...change, rest: { ...part.rest, translation } })} />
      <Three label="rest turn" unit="°" values={part.rest.rotation ?? [0, 0, 0]} editOf={(rotation) => ({ ...change, rest: { ...part.rest, rotation } })} />
      <Three label="size" unit="m" values={part.shape.size ?? [1, 1, 1]} editOf={(size) => ({ ...change, shape: { ...part.shape, size } })} />
    </div>
  );
}

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div style={{ display: "flex", alignItems: "center", gap: 4 }}>
      <span style={{ width: 52, flex: "none", color: ink.quiet, fontSize: 12 }}>{label}</span>
      {children}
    </div>
  );
}

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  options: readonly T[];
  onChange: (value: T) => void;
}

function Choice<T extends string>({ label, value, options, onChange }: ChoiceProps<T>) {
  return (
    <Select<T>
      size="small"
      aria-label={label}
      style={{ flex: 1, minWidth: 0 }}
      popupMatchSelectWidth={false}
      value={value}
      options={options.map((one) => ({ value: one, label: one }))}
      onChange={onChange}
    />
  );
}

/** The parent, chosen from all parts that are not below this one. */
function Parent({ part }: { part: PartView }) {
  const edit = useEdit();
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const below = (id: string | null): boolean =>
    id !== null && (id === part.id || below(parts[id]?.parent ?? null));
  const options = order.filter((id) => !below(id)).map((id) => ({ value: id, label: parts[id]?.name ?? id }));
  return (
    <Select
      size="small"
      showSearch={{ optionFilterProp: "label" }}
      aria-label="parent"
      style={{ flex: 1, minWidth: 0 }}
      value={part.parent ?? ""}
      options={[{ value: "", label: "— at the top —" }, ...options]}
      onChange={(parent) => void edit({ do: "move part", part: part.id, parent: parent || null })}
    />
  );
}

type Vector = [number, number, number];
type PartChange = Extract<Parameters<ReturnType<typeof useEdit>>[0], { do?: "change part" }>;

interface ThreeProps {
  label: string;
  unit: string;
  values: Vector;
  editOf: (values: Vector) => PartChange;
}

function Three({ label, unit, values, editOf }: ThreeProps) {
  const edit = useEdit();
  const changed = (n: number, value: number) =>
    editOf(values.map((old, m) => (m === n ? value : old)) as Vector);
  return (
    <Row label={label}>
      {axes.map((axis, n) => (
        <NumberField
          key={axis}
          label={`${label} ${axis}`}
          value={values[n] ?? 0}
          text={shown(values[n], "", unit === "°" ? 1 : 2)}
          step={unit === "°" ? 1 : 0.01}
          width={50}
          onTry={(value) => {
            feed.tryOut([changed(n, value)]);
          }}
          onCommit={(value) => void edit(changed(n, value))}
        />
      ))}
    </Row>
  );
}
