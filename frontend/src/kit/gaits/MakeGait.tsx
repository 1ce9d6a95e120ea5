import { Button, Input, Select } from "antd";
import { useState } from "react";

import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { choosePart, useSelection } from "../../state/selection";
import { useCommand } from "../../state/useEdit";
import { typed } from "../../shared/arithmetic";
import { ink } from "../../shared/theme";
import { feetOf, patterns, phasesFor, rootOf } from "./patterns";

type Vector = [number, number, number];
const aheads: Record<string, Vector> = { "+z": [0, 0, 1], "−z": [0, 0, -1], "+x": [1, 0, 0], "−x": [-1, 0, 0] };

/** Makes a gait of the chosen feet and root, as they stand on this frame. */
export function MakeGait({ onMade }: { onMade: () => void }) {
  const command = useCommand();
  const order = useOpenScene((scene) => scene.order);
  const parts = useOpenScene((scene) => scene.parts);
  const chosen = useSelection((selection) => selection.parts);
  const [wish, setWish] = useState({ name: "walk", hips: "", head: "", ground: "", ahead: "+z", arms: [] as string[] });
  const [phases, setPhases] = useState<string | null>(null);
  const root = rootOf(parts, chosen);
  const feet = feetOf(chosen, root);
  if (feet.length < 1) {
    return <p style={{ margin: 0, color: ink.quiet }}>Choose the feet from the front to the back, left and right in turn (the goals of limbs), and with them the root that is keyed along a path, with Ctrl-click: a gait lets them walk along its path.</p>;
  }
  const text = phases ?? phasesFor(feet.length).join(" ");
  const numbers = text.split(/[\s,]+/).filter(Boolean).map((one) => typed(one, 0));
  const good = numbers.length === feet.length && numbers.every((one) => one !== undefined && one >= 0 && one < 1);
  const name = (id: string) => parts[id]?.name ?? id;
  const options = order.filter((id) => id !== root).map((id) => ({ value: id, label: name(id) }));
  const arms = wish.arms.filter((id) => parts[id]);
  const phaseOf = (arm: string) => numbers[feet.findIndex((foot) => parts[foot]?.side === parts[arm]?.side)] ?? 0;
  const make = () => {
    const done = () => { onMade(); choosePart(root); };
    void command(done, {
      do: "make gait",
      name: wish.name,
      part: root,
      feet: feet.map((foot, n): [string, number] => [foot, numbers[n] ?? 0]),
      hips: parts[wish.hips] ? wish.hips : null,
      head: parts[wish.head] ? wish.head : null,
      arms: arms.map((arm): [string, number] => [arm, phaseOf(arm)]),
      ground: parts[wish.ground] ? wish.ground : null,
      forward: aheads[wish.ahead] ?? [0, 0, 1],
      frame: usePlayer.getState().frame,
    });
  };
  const fits = Object.entries(patterns).filter(([, one]) => one.length === feet.length);
  const field = { flex: 1, minWidth: 0 } as const;
  const row = (label: string, title: string, control: React.ReactNode) => (
    <label style={{ display: "flex", gap: 6, alignItems: "center", fontSize: 12 }}><span style={{ flex: "none", width: 46, color: ink.quiet }} title={title}>{label}</span>{control}</label>
  );
  return (
    <div style={{ display: "grid", gap: 5 }} onKeyDown={(event) => { event.stopPropagation(); }}>
      <span style={{ fontSize: 12, overflowWrap: "anywhere" }}>New gait: {feet.map(name).join(", ")} along <strong>{name(root)}</strong></span>
      {row("name", "Its numbers are channels of the root, under this name", <Input size="small" aria-label="Name of the new gait" value={wish.name} onChange={(event) => { setWish({ ...wish, name: event.target.value }); }} />)}
      {fits.length > 1 && row("steps", "In which order the feet land", <Select size="small" aria-label="Order in which the feet land" style={field} value={fits.find(([, one]) => one.join(" ") === text)?.[0] ?? "typed"} options={fits.map(([value]) => ({ value, label: value }))} onChange={(value) => { setPhases(patterns[value]?.join(" ") ?? null); }} />)}
      {row("phases", "At which share of a cycle each foot lands, from 0 to below 1", <Input size="small" className="mono" aria-label="Phases of the feet" aria-invalid={!good} status={good ? "" : "error"} value={text} onChange={(event) => { setPhases(event.target.value); }} />)}
      {row("hips", "What rises, sways, turns and leans, by formulas; none: leave that out", <Select size="small" allowClear aria-label="Hips" style={field} showSearch={{ optionFilterProp: "label" }} value={parts[wish.hips] ? wish.hips : null} placeholder="none" options={options} onChange={(value: string | undefined) => { setWish({ ...wish, hips: value ?? "" }); }} />)}
      {row("head", "What looks ahead while the hips turn and lean, by formulas; none: leave that out", <Select size="small" allowClear disabled={!parts[wish.hips]} aria-label="Head" style={field} showSearch={{ optionFilterProp: "label" }} value={parts[wish.head] ? wish.head : null} placeholder={parts[wish.hips] ? "none" : "choose the hips first"} options={options.filter(({ value }) => value !== wish.hips)} onChange={(value: string | undefined) => { setWish({ ...wish, head: value ?? "" }); }} />)}
      {row("arms", "What swings, with the leg of the other side", <Select size="small" mode="multiple" aria-label="Arms" style={field} showSearch={{ optionFilterProp: "label" }} value={arms} placeholder="none" options={options} onChange={(value) => { setWish({ ...wish, arms: value }); }} />)}
      {row("ground", "On whose plane y = 0 they walk; a deck may tilt and move", <Select size="small" allowClear aria-label="Ground" style={field} showSearch={{ optionFilterProp: "label" }} value={parts[wish.ground] ? wish.ground : null} placeholder="the world" options={options} onChange={(value: string | undefined) => { setWish({ ...wish, ground: value ?? "" }); }} />)}
      {row("ahead", "The root’s own axis that looks ahead", <Select size="small" aria-label="Axis that looks ahead" style={field} value={wish.ahead} options={Object.keys(aheads).map((value) => ({ value, label: value }))} onChange={(value) => { setWish({ ...wish, ahead: value }); }} />)}
      <Button size="small" type="primary" disabled={!good || !wish.name.trim()} title={good ? "The feet as they stand on this frame" : `Write ${String(feet.length)} phases from 0 to below 1`} onClick={make} style={{ justifySelf: "start" }}>Make the gait</Button>
    </div>
  );
}
