import { Button, Checkbox, Select } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";

import type { BakeView, SceneEntry } from "../api/client";
import { post, reason } from "../api/client";
import { useOpenScene } from "../state/openScene";
import { useSelection } from "../state/selection";
import { useCommand, useEdit } from "../state/useEdit";
import { counted, shown } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { freeName } from "../shared/freeName";
import { Popup } from "../shared/Popup";
import { TextField } from "../shared/TextField";
import { Chapter } from "../shared/Chapter";
import { ink } from "../shared/theme";
import type { Show } from "./panel";
import { useBakes } from "./useBakes";
import { useChangeBake } from "./useChangeBake";

const ways = ["joints and props", "all parts", "a set", "by hand"] as const;

/** Bakes: what leaves, and whether it is still what it came from. */
export function Bakes({ onShow }: { onShow: Show }) {
  const command = useCommand();
  const { data, error } = useBakes();
  const header = useOpenScene((scene) => scene.header);
  const parts = useOpenScene((scene) => scene.parts);
  const add = () => {
    const name = freeName("out", data?.bakes.map((bake) => bake.name) ?? []);
    // Where nothing is a joint, controls are what is drawn.
    const some = Object.values(parts).some(({ role }) => role === "joint");
    void command(() => undefined, { do: "put bake", name, first: header.first, last: header.last, by: some ? "joints and props" : "all parts" });
  };
  return (
    <section aria-label="Bakes" style={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 8 }}>
      <div style={{ display: "flex", alignItems: "center" }}>
        <span style={{ flex: 1 }}><Chapter name="bakes" of="Handing over" /></span>
        <Button size="small" type={data?.bakes.length ? "default" : "primary"} title="Writes out where all joints and props are, or all parts where there are no joints, over the whole range; change what and when afterwards" onClick={add}>Bake</Button>
      </div>
      {error && <span style={{ color: ink.trouble }}>{reason(error)}</span>}
      {data?.bakes.map((bake) => <BakeCard key={bake.id} bake={bake} onShow={onShow} />)}
      {data && !data.bakes.length && <p style={{ margin: 0, color: ink.quiet }}>Nothing baked yet. A bake holds where parts are as plain curves, and says when its source has changed.</p>}
    </section>
  );
}

function BakeCard({ bake, onShow }: { bake: BakeView; onShow: Show }) {
  const edit = useEdit();
  const change = useChangeBake(bake);
  const fresh = bake.state === "fresh";
  return (
    <section aria-label={`Bake ${bake.name}`} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: "6px 8px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 4 }}>
      <div style={{ display: "flex", alignItems: "center", gap: 4 }}>
        <TextField label={`Name of the bake ${bake.name}`} value={bake.name} width="100%" strong onCommit={(name) => change({ name })} />
        <span className="mono" style={{ flex: "none", fontSize: 12 }}>{bake.first} … {bake.last}</span>
        <Button type="text" size="small" aria-label={`Delete the bake ${bake.name}`} style={{ height: 18, paddingInline: 4 }} onClick={() => void edit({ do: "remove bake", id: bake.id })}>×</Button>
      </div>
      <State bake={bake} />
      <div style={{ display: "flex", flexWrap: "wrap", gap: 4 }}>
        {!fresh && bake.state !== null && (
          <Button size="small" title={bake.state === "asks" ? (bake.problem ?? "") : "Writes it out anew from its source"} onClick={() => void edit({ do: "take over", id: bake.id, agreed: bake.state === "asks" })}>{bake.state === "asks" ? "Take over all the same" : "Take over"}</Button>
        )}
        <Button size="small" title="How far each part is from its source" onClick={() => { onShow({ what: "bake", bake: bake.id }); }}>Compare</Button>
        <Popup title={`What ${bake.name} holds`} placement="right" content={() => <Settings bake={bake} />}>
          <Button size="small" aria-label={`What ${bake.name} holds`}>what…</Button>
        </Popup>
      </div>
    </section>
  );
}

function State({ bake }: { bake: BakeView }) {
  const count = counted(bake.leaving.length, "part");
  if (bake.state === null) return <span role="alert" style={{ color: ink.trouble, fontSize: 12 }}>{bake.problem}</span>;
  if (bake.state === "fresh") return <span style={{ fontSize: 12 }}><span style={{ color: ink.well }}>● fresh</span> {count}, {counted(bake.keys, "key")}</span>;
  const far = bake.places === null ? "" : `, up to ${mm(bake.places)} at ${String(bake.frame)}`;
  return (
    <span style={{ fontSize: 12 }}>
      <span style={{ color: ink.trouble }}>◐ {bake.follows ? "follows" : "stale"}</span>{far}
      {bake.state === "asks" && <span style={{ display: "block", color: ink.trouble }}>{bake.problem}</span>}
    </span>
  );
}

/** A distance as people read it. */
export function mm(metres: number): string {
  return metres >= 1 ? `${shown(metres, "", 2)} m` : `${shown(metres * 1000, "", metres < 0.001 ? 3 : 1)} mm`;
}

function Settings({ bake }: { bake: BakeView }) {
  const put = useChangeBake(bake);
  const navigate = useNavigate();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const sets = useOpenScene((scene) => scene.header.sets);
  const chosen = useSelection((selection) => selection.parts);
  const [problem, setProblem] = useState<string | null>(null);
  const change = (what: Partial<BakeView>) => void put(what);
  const number = (label: string, value: number, key: "first" | "last" | "step" | "tolerance", hint: string) => (
    <span style={{ display: "flex", alignItems: "center", gap: 6 }} title={hint}>
      <span style={{ flex: 1, color: ink.quiet }}>{label}</span>
      <NumberField label={`${label} of ${bake.name}`} value={value} text={String(value)} step={key === "tolerance" ? 0.001 : 1} width={76} onCommit={(to) => { change({ [key]: key === "tolerance" ? to : Math.round(to) }); }} />
    </span>
  );
  const layOut = () => {
    post<SceneEntry>(`/api/scenes/${String(sceneId)}/bakes/${bake.id}/scene`).then(
      (made) => void navigate(`/scenes/${String(made.id)}/bench`),
      (error: unknown) => { setProblem(reason(error)); },
    );
  };
  return (
    <div style={{ width: 240, display: "grid", gap: 6 }}>
      <span style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <span style={{ flex: 1, color: ink.quiet }}>parts</span>
        <Select size="small" aria-label={`Parts of ${bake.name}`} style={{ width: 140 }} value={bake.by} options={ways.map((value) => ({ value, label: value, disabled: (value === "a set" && !sets.length) || (value === "by hand" && !chosen.length && !bake.parts.length) }))} onChange={(by) => { change({ by, ...(by === "by hand" ? { parts: chosen.length ? chosen : bake.parts } : {}), ...(by === "a set" ? { set: sets[0]?.id ?? null } : {}) }); }} />
      </span>
      {bake.by === "a set" && <Select size="small" aria-label={`Set of ${bake.name}`} value={bake.set} options={sets.map(({ id, name }) => ({ value: id, label: name }))} onChange={(set: string | null) => { change({ set }); }} />}
      {number("first frame", bake.first, "first", "From this frame on")}
      {number("last frame", bake.last, "last", "Up to this frame")}
      {number("every … frames", bake.step, "step", "1: every frame")}
      {number("tolerance", bake.tolerance, "tolerance", "Metres, degrees and factors within which keys are left out; 0: every frame")}
      <Checkbox checked={bake.own_channels} onChange={(event) => { change({ own_channels: event.target.checked }); }}>own channels too</Checkbox>
      <Checkbox checked={bake.follows} onChange={(event) => { change({ follows: event.target.checked }); }}>follows: leaves as its source is then</Checkbox>
      <Button size="small" style={{ justifySelf: "start" }} title="A new scene with these parts and their curves" onClick={layOut}>Lay it out as a scene</Button>
      {problem && <span role="alert" style={{ color: ink.trouble }}>{problem}</span>}
    </div>
  );
}
