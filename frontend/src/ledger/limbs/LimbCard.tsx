import { Button, Checkbox, Space } from "antd";
import type { ReactNode } from "react";

import type { Limb, OneEdit } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { feed } from "../../state/samples";
import { chooseChannel, choosePart, chooseParts } from "../../state/selection";
import { brief } from "../../shared/format";
import { degreeSign } from "../../shared/units";
import { NumberField } from "../../shared/NumberField";
import { Popup } from "../../shared/Popup";
import { ink } from "../../shared/theme";
import { PartSelect, Row, VectorFields } from "../binding/fields";
import { FootMenu } from "./FootMenu";
import { LimbNote } from "./LimbNote";
import { SwitchLimbs } from "./SwitchLimbs";

type Vector = [number, number, number];

/** The edit that changes something of a limb; what is not given stays. */
export function limbEdit(limb: Limb, what: object): OneEdit {
  const { id, name, part, chain = [], goal = "", pole, axis, limits, offset, goal_tap, goal_back, pole_tap, pole_back, toes } = limb;
  return { do: "put limb", id, name, part, chain, goal, pole, axis, limits, offset, goal_tap, goal_back, pole_tap, pole_back, toes, ...what } as OneEdit;
}

function Go({ title, onClick, children }: { title: string; onClick: () => void; children: ReactNode }) {
  return <button type="button" title={title} onClick={onClick} style={{ all: "unset", cursor: "pointer", textDecoration: "underline dotted" }}>{children}</button>;
}

/** One limb: its chain, what it reaches for, how, and its switches. */
export function LimbCard({ limb }: { limb: Limb }) {
  const edit = useEdit();
  const parts = useOpenScene((scene) => scene.parts);
  const change = (what: object) => edit(limbEdit(limb, what));
  const attempt = (what: object) => { feed.tryOut([limbEdit(limb, what)]); };
  const chain = limb.chain ?? [];
  const limits = limb.limits as [number, number] | null | undefined;
  const bound = (place: 0 | 1, value: number): [number, number] => {
    const [low, high] = limits ?? [0, 160];
    return place === 0 ? [value, high] : [low, value];
  };
  const name = (id: string) => parts[id]?.name ?? id;
  return (
    <section aria-label={`Limb ${limb.name}`} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: "6px 8px", display: "grid", gap: 4 }}>
      <span style={{ fontSize: 12, overflowWrap: "anywhere" }}>
        <Go title="Choose the parts of the chain" onClick={() => { chooseParts(chain); }}>{chain.map(name).join(" › ")}</Go>
        {" → "}
        <Go title="Choose the goal" onClick={() => { choosePart(limb.goal ?? null); }}>{name(limb.goal ?? "")}</Go>
        {limb.pole && <>, <Go title="Choose the pole" onClick={() => { choosePart(limb.pole ?? null); }}>{name(limb.pole)}</Go></>}
      </span>
      <LimbNote limb={limb} />
      <Space size={4} wrap>
        <Popup placement="right" title={`${limb.name}: FK and IK`} content={(close) => <SwitchLimbs limbs={[limb.id]} onDone={close} />}>
          <Button size="small">Switch…</Button>
        </Popup>
        {parts[limb.goal ?? ""]?.role === "control" && (
          <Popup placement="right" title={`Foot of ${limb.name}`} content={(close) => <FootMenu limb={limb} onDone={close} />}>
            <Button size="small">Foot…</Button>
          </Popup>
        )}
        <Button size="small" title={`Blend, stretch, soft, turn and end follows are channels of ${name(limb.part)}`} onClick={() => { chooseChannel(limb.part, `${limb.id}.blend`); }}>channels</Button>
      </Space>
      <details>
        <summary style={{ fontSize: 12, color: ink.quiet, cursor: "pointer" }}>goal, pole, bend</summary>
        <Row label="goal"><PartSelect label={`Goal of ${limb.name}`} value={limb.goal ?? ""} without={chain[0] ?? ""} onChange={(goal) => void change({ goal, offset: null })} /></Row>
        <Row label="pole"><PartSelect label={`Pole of ${limb.name}`} value={limb.pole ?? ""} none={[{ value: "", label: "none" }]} without={chain[0] ?? ""} onChange={(pole) => void change({ pole: pole || null })} /></Row>
        <Row label="axis" title="The bend axis, in the middle part's own axes: a positive turn about it bends to the limb's own side">
          <VectorFields label={`Bend axis of ${limb.name}`} value={(limb.axis ?? [0, 0, 1]) as Vector} unit="" onTry={(axis) => { attempt({ axis }); }} onCommit={(axis) => void change({ axis })} />
        </Row>
        {chain.length === 3 && (
          <Row label="limits" title="The least and the largest bend, degrees from straight">
            <Checkbox aria-label={`Limits of ${limb.name}`} checked={Boolean(limits)} onChange={(event) => void change({ limits: event.target.checked ? [0, 160] : null })} />
            {limits && ([0, 1] as const).map((place) => (
              <NumberField key={place} label={`${place ? "Largest" : "Least"} bend of ${limb.name}`} value={limits[place]} text={`${brief(limits[place], "°", 6)}${degreeSign("°")}`} unit="°" width={56} onTry={(value) => { attempt({ limits: bound(place, value) }); }} onCommit={(value) => void change({ limits: bound(place, value) })} />
            ))}
          </Row>
        )}
      </details>
    </section>
  );
}
