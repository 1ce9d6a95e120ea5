import { App, Select } from "antd";
import { useState } from "react";

import type { PartView } from "../api/client";
import { useEdit } from "../state/useEdit";
import { ColourField } from "../shared/ColourField";
import { useOpenScene } from "../state/openScene";
import { feed } from "../state/samples";
import { byName } from "../shared/byName";
import { figure } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { ink } from "../shared/theme";
import { saidUnit } from "../shared/units";
import { useKeepPlace } from "./keepPlace";

const roles = ["control", "joint", "helper", "prop"] as const;
const sides = ["left", "centre", "right"] as const;
const orders = ["xyz", "xzy", "yxz", "yzx", "zxy", "zyx"] as const;
const shapes = [
  "none", "box", "ball", "rod", "wheel", "ring", "axes", "arrow", "foot", "wing", "plate", "belt",
] as const;
const round = new Set<string>(["wheel", "ring"]);
const axes = ["x", "y", "z"] as const;
const rewrites = ["on keys", "on every frame", "leave"] as const;

/** What a part is apart from its channels: role, side, rotation order, rest, shape. */
export function PartSettings({ part }: { part: PartView }) {
  const edit = useEdit();
  const change = { do: "change part" as const, part: part.id };
  return (
    <div style={{ padding: "4px 12px 10px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 5 }} aria-label="Part settings" role="group">
      <Row label="role">
        <Choice label="role" value={part.role} options={roles} onChange={(role) => void edit({ ...change, role })} />
        <Choice label="side" value={part.side} options={sides} onChange={(side) => void edit({ ...change, side })} />
      </Row>
      <Row label="below">
        <Parent part={part} />
      </Row>
      <Row label="order">
        <RotationOrder part={part} />
      </Row>
      <Row label="shape">
        <Choice label="shape" value={part.shape.kind ?? "none"} options={shapes} onChange={(kind) => void edit({ ...change, shape: { ...part.shape, kind } })} />
      </Row>
      <Row label="pair">
        <Pair part={part} />
      </Row>
      <Row label="colour">
        <ColourField label="colour of the shape" value={part.shape.colour ?? "#C9A66B"} style={{ width: 40, height: 22 }} onCommit={(colour) => edit({ ...change, shape: { ...part.shape, colour } })} />
      </Row>
      <Three label="rest at" unit="m" values={part.rest.translation ?? [0, 0, 0]} editOf={(translation) => ({ ...change, rest: { ...part.rest, translation } })} />
      <Three label="rest turn" unit="°" values={part.rest.rotation ?? [0, 0, 0]} editOf={(rotation) => ({ ...change, rest: { ...part.rest, rotation } })} />
      {round.has(part.shape.kind ?? "none") && <span style={{ color: ink.quiet, fontSize: 11.5 }}>size x and y are the diameter, z is how wide it is</span>}
      <Three label="size" unit="m" values={part.shape.size ?? [1, 1, 1]} editOf={(size) => ({ ...change, shape: { ...part.shape, size } })} />
      <Three label="offset" unit="m" values={part.shape.offset ?? [0, 0, 0]} editOf={(offset) => ({ ...change, shape: { ...part.shape, offset } })} />
    </div>
  );
}

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div style={{ display: "flex", alignItems: "center", gap: 4 }}>
      <span style={{ width: 50, flex: "none", color: ink.quiet, fontSize: 12 }}>{label}</span>
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
      showSearch={byName}
      aria-label="parent"
      style={{ flex: 1, minWidth: 0 }}
      value={part.parent ?? ""}
      options={[{ value: "", label: "— at the top —" }, ...options]}
      onChange={(parent) => void edit({ do: "move part", part: part.id, parent: parent || null, keep_place: useKeepPlace.getState().keepPlace })}
    />
  );
}

/** The rotation order, and what becomes of the curves with another one. */
function RotationOrder({ part }: { part: PartView }) {
  const edit = useEdit();
  const { message } = App.useApp();
  const [rewrite, setRewrite] = useState<(typeof rewrites)[number]>("on keys");
  const set = (order: (typeof orders)[number]) => {
    void edit({ do: "change rotation order", part: part.id, order, rewrite }).then((stored) => {
      const said = useOpenScene.getState().header.undo;
      if (stored && said) void message.info(said, 5);
    });
  };
  return (
    <>
      <Choice label="rotation order" value={part.rotation_order} options={orders} onChange={set} />
      <Select
        size="small"
        aria-label="what another order keeps"
        title="With another order, the pose is kept on the keys, on every frame, or the curves are left and the pose changes"
        style={{ flex: 1, minWidth: 0 }}
        popupMatchSelectWidth={false}
        value={rewrite}
        options={rewrites.map((value) => ({ value, label: value === "leave" ? "leave the curves" : `keep poses ${value}` }))}
        onChange={setRewrite}
      />
    </>
  );
}

/** The part on the other side: by the rule of names, or chosen by hand. */
function Pair({ part }: { part: PartView }) {
  const edit = useEdit();
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const fromNames = part.opposite && !part.paired ? `by name: ${parts[part.opposite]?.name ?? ""}` : "by name: none";
  const options = order.filter((id) => id !== part.id).map((id) => ({ value: id, label: parts[id]?.name ?? id }));
  return (
    <Select
      size="small"
      showSearch={byName}
      aria-label="opposite"
      style={{ flex: 1, minWidth: 0 }}
      value={part.paired ? (part.opposite ?? "") : ""}
      options={[{ value: "", label: fromNames }, ...options]}
      onChange={(pair) => void edit({ do: "pair parts", part: part.id, pair: pair || null })}
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
  const word = saidUnit(unit);
  const changed = (n: number, value: number) =>
    editOf(values.map((old, m) => (m === n ? value : old)) as Vector);
  return (
    <Row label={label}>
      {axes.map((axis, n) => (
        <NumberField
          key={axis}
          label={`${label} ${axis}`}
          value={values[n] ?? 0}
          text={figure(values[n] ?? 0, unit, unit === "°" ? 1 : 2)}
          unit={unit}
          width={55}
          onTry={(value) => {
            feed.tryOut([changed(n, value)]);
          }}
          onCommit={(value) => void edit(changed(n, value))}
        />
      ))}
      {word && <span style={{ color: ink.quiet, fontSize: 12 }}>{word}</span>}
    </Row>
  );
}
