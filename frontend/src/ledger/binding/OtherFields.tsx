import { Button, Checkbox, Select } from "antd";

import type { StepView } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { AroundRow } from "./ConstraintFields";
import { AxisSelect, PartSelect, Row, useStepChange, VectorFields } from "./fields";
import type { FollowSettings, PathSettings, SpaceSettings, Vector } from "./settings";

/** The points of a path, and how it is followed. */
export function PathFields({ step, part, settings }: { step: StepView; part: string; settings: PathSettings }) {
  const { change, attempt } = useStepChange(step);
  const { points } = settings;
  const put = (n: number, what: object) => ({ ...settings, points: points.map((one, m) => (m === n ? { ...one, ...what } : one)) });
  return (
    <div style={{ display: "grid", gap: 4, margin: "4px 0" }}>
      {points.map((point, n) => (
        <div key={n} style={{ display: "flex", gap: 3, alignItems: "center", flexWrap: "wrap" }}>
          <PartSelect label={`${step.name} point ${String(n + 1)}`} value={point.part ?? ""} none={[{ value: "", label: "the world" }]} without={part} width={84} onChange={(id) => { change(put(n, { part: id || null })); }} />
          <VectorFields label={`${step.name} point ${String(n + 1)}`} value={(point.point ?? [0, 0, 0]) as Vector} unit="m" onTry={(at) => { attempt(put(n, { point: at })); }} onCommit={(at) => { change(put(n, { point: at })); }} />
          {points.length > 2 && <Button type="text" size="small" aria-label={`Take point ${String(n + 1)} of ${step.name} out`} title="Take this point out" style={{ paddingInline: 3 }} onClick={() => { change({ ...settings, points: points.filter((_, m) => m !== n) }); }}>×</Button>}
        </div>
      ))}
      <Row label="and">
        <PartSelect label={`Add a point to ${step.name}`} value="–" none={[{ value: "–", label: "another …" }]} without={part} onChange={(id) => { if (id !== "–") change({ ...settings, points: [...points, { part: id }] }); }} />
      </Row>
      <Row label="ends">
        <Select size="small" aria-label={`${step.name} at the ends`} style={{ width: 78 }} value={settings.ends ?? "stop"} options={[{ value: "stop", label: "stop" }, { value: "repeat", label: "repeat" }]} onChange={(ends: "stop" | "repeat") => { change({ ...settings, ends }); }} />
        <Checkbox checked={settings.closed ?? false} onChange={() => { change({ ...settings, closed: !settings.closed }); }}>closed</Checkbox>
      </Row>
      <Row label="look">
        <Checkbox checked={settings.along ?? true} onChange={() => { change({ ...settings, along: !(settings.along ?? true) }); }}>along it, by</Checkbox>
        <AxisSelect label={`${step.name} axis`} value={(settings.axis ?? [1, 0, 0]) as Vector} onChange={(axis) => { change({ ...settings, axis }); }} />
      </Row>
      {(settings.along ?? true) && (
        <Row label="up" title="This axis of the part looks as near as can be in that direction of the world">
          <AxisSelect label={`${step.name} up axis`} value={(settings.up_axis ?? [0, 1, 0]) as Vector} onChange={(axis) => { change({ ...settings, up_axis: axis }); }} />
          toward
          <AxisSelect label={`${step.name} up direction`} value={(settings.up_direction ?? [0, 1, 0]) as Vector} onChange={(axis) => { change({ ...settings, up_direction: axis }); }} />
        </Row>
      )}
      <AroundRow step={step} tap={settings.tap ?? "final"} onChange={(tap) => { change({ ...settings, tap }); }} />
    </div>
  );
}

const shares = { translation: "position", rotation: "rotation", scale: "scale" } as const;

/** Of what a part takes a share only. */
export function FollowFields({ step, settings }: { step: StepView; settings: FollowSettings }) {
  const { change } = useStepChange(step);
  const takes = settings.takes ?? ["rotation"];
  const turn = (group: keyof typeof shares) => {
    const next = (Object.keys(shares) as (keyof typeof shares)[]).filter((one) => (one === group) !== takes.includes(one));
    if (next.length) change({ ...settings, takes: next });
  };
  return (
    <div style={{ margin: "4px 0" }}>
      <span style={{ fontSize: 11.5 }}>It takes a share of its parent’s</span>
      <div style={{ display: "flex", gap: 4 }}>
        {(Object.keys(shares) as (keyof typeof shares)[]).map((group) => (
          <Checkbox key={group} checked={takes.includes(group)} onChange={() => { turn(group); }}>{shares[group]}</Checkbox>
        ))}
      </div>
      <AroundRow step={step} tap={settings.tap ?? "final"} onChange={(tap) => { change({ ...settings, tap }); }} />
      <span style={{ fontSize: 11.5 }}>How much is a channel, 0 to 1: {takes.map((group) => `${step.name}.${shares[group]}`).join(", ")}</span>
    </div>
  );
}

/** The spaces that a part can be in. */
export function SpaceFields({ step, part, settings }: { step: StepView; part: string; settings: SpaceSettings }) {
  const { change } = useStepChange(step);
  const parts = useOpenScene((scene) => scene.parts);
  const spaces = settings.spaces ?? ["", "0"];
  const name = (space: string) => (space === "" ? "parent" : space === "0" ? "world" : (parts[space]?.name ?? space));
  const free = [...(spaces.includes("") ? [] : [{ value: "(parent)", label: "parent" }]), ...(spaces.includes("0") ? [] : [{ value: "0", label: "world" }])];
  return (
    <div style={{ display: "grid", gap: 4, margin: "4px 0" }}>
      <span style={{ display: "flex", flexWrap: "wrap", columnGap: 6, fontSize: 12 }}>
        {spaces.map((space) => (
          <span key={space} style={{ whiteSpace: "nowrap" }}>
            {name(space)}
            {spaces.length > 2 && <Button type="text" size="small" aria-label={`Take ${name(space)} out of ${step.name}`} title="Take this space out of the list" style={{ paddingInline: 3 }} onClick={() => { change({ ...settings, spaces: spaces.filter((one) => one !== space) }); }}>×</Button>}
          </span>
        ))}
      </span>
      <Row label="and">
        <PartSelect label={`Add a space to ${step.name}`} value="–" none={[{ value: "–", label: "another …" }, ...free]} without={part} onChange={(id) => { if (id !== "–") change({ ...settings, spaces: [...spaces, id === "(parent)" ? "" : id] }); }} />
      </Row>
      <Row label="carries">
        <Select size="small" aria-label={`What ${step.name} carries`} popupMatchSelectWidth={false} style={{ width: 150 }} value={settings.carries ?? "full"} options={[{ value: "full", label: "position and rotation" }, { value: "position", label: "position" }, { value: "rotation", label: "rotation" }]} onChange={(carries: "full" | "position" | "rotation") => { change({ ...settings, carries }); }} />
      </Row>
      <AroundRow step={step} tap={settings.tap ?? "final"} onChange={(tap) => { change({ ...settings, tap }); }} />
    </div>
  );
}
