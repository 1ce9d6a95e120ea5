import { Alert, App, Button, Input, Select, Space } from "antd";
import { useEffect, useMemo, useState } from "react";

import { reason } from "../../api/client";
import type { WhatIfView } from "../../state/order";
import { restore } from "../../state/scene";
import type { Pose } from "../../view/Poses";
import { View3D } from "../../view/View3D";
import { useEdit } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { byName } from "../../shared/byName";
import { ink } from "../../shared/theme";
import { SmallCurves } from "../SmallCurves";
import { useWiring } from "../state";
import { useWhatIf } from "../useWhatIf";
import { ChooseSide } from "./ChooseSide";
import type { Side, SideChoice } from "./sides";
import { sideName, sideOf, stepOf, useSides, useWish, variantOf } from "./sides";
import { usePose } from "./usePose";

const nowhere: Pose = { blocks: {}, first: 0 };
const here = "two sides chosen here";

/** Two orders, two settings or two revisions side by side: curves, difference, worst frame, and
 * both poses in the view. Keep one, or discard both. */
export function WhatIf() {
  const saved = useOpenScene((scene) => scene.header.what_ifs);
  const state = useSides();
  const id = saved.find((one) => one.id === state.saved)?.id ?? (state.touched ? null : saved[0]?.id) ?? null;
  return (
    <div style={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 8, alignContent: "start" }} onKeyDown={(event) => { event.stopPropagation(); }}>
      <Select
        size="small"
        aria-label="What to compare"
        value={id ?? here}
        options={[...saved.map((one) => ({ value: one.id, label: one.name })), { value: here, label: here }]}
        onChange={(value) => { useSides.setState({ touched: true, saved: value === here ? null : value }); }}
      />
      {id ? <Saved key={id} id={id} /> : <Chosen />}
    </div>
  );
}

/** A comparison that is kept with the scene. */
function Saved({ id }: { id: string }) {
  const edit = useEdit();
  const one = { saved: id, side: "one" as const };
  const other = { saved: id, side: "other" as const };
  const { data, late, error } = useWhatIf(useWish(one, other));
  return (
    <>
      {error && <Alert type="error" showIcon message={reason(error)} />}
      {data && (
        <>
          <Sides data={data} one={one} other={other} names={["first", "second"]} />
          <Space size={6} wrap>
            <Button size="small" disabled={late} onClick={() => void edit(...data.one_edits)}>Keep first</Button>
            <Button size="small" disabled={late} onClick={() => void edit(...data.other_edits)}>Keep second</Button>
            <Button size="small" title="Delete this saved What if; the scene stays as it is" onClick={() => void edit({ do: "remove what if", id })}>Discard</Button>
          </Space>
        </>
      )}
    </>
  );
}

/** Two sides that are chosen here. */
function Chosen() {
  const parts = useOpenScene((scene) => scene.parts);
  const revision = useOpenScene((scene) => scene.header.revision);
  const { one, other } = useSides();
  useFirstGuess();
  const sides = [sideOf(one, parts), sideOf(other, parts)] as const;
  const [first, second] = sides;
  const { data, late, error } = useWhatIf(useWish(first, second));
  const names: [string, string] = [sideName(one, parts), sideName(other, parts)];
  return (
    <>
      <ChooseSide label="first" choice={one} onChange={(next) => { useSides.setState({ touched: true, one: next }); }} />
      <ChooseSide label="second" choice={other} onChange={(next) => { useSides.setState({ touched: true, other: next }); }} />
      <Button
        size="small"
        style={{ justifySelf: "start" }}
        title="The first side stays as the scene is at this moment; go on working, and the second side shows what it has become"
        onClick={() => { useSides.setState({ touched: true, one: { kind: "revision", revision }, other: { kind: "now" } }); }}
      >
        Hold this moment as the first
      </Button>
      {error && <Alert type="error" showIcon message={reason(error)} />}
      {data && first && second && !error && (
        <>
          <Sides data={data} one={first} other={second} names={names} />
          <Space size={6} wrap>
            <Keep which="first" choice={one} edits={late ? null : data.one_edits} name={names[0]} />
            <Keep which="second" choice={other} edits={late ? null : data.other_edits} name={names[1]} />
            <Button size="small" title="Forget both sides; the scene stays as it is" onClick={() => { useSides.setState({ saved: null, touched: true, one: { kind: "now" }, other: { kind: "now" } }); useWiring.setState({ tab: "order" }); }}>Discard both</Button>
          </Space>
          <Save one={one} other={other} />
        </>
      )}
    </>
  );
}

/** Until something is chosen here: the chosen step as it is, and muted. */
function useFirstGuess() {
  const touched = useSides((sides) => sides.touched);
  const part = useSelection((selection) => selection.part);
  const chosen = useSelection((selection) => selection.step);
  useEffect(() => {
    if (touched) return;
    const { parts } = useOpenScene.getState();
    const step = (chosen && stepOf(parts, chosen)?.step.id) || (part && parts[part]?.steps[0]?.id);
    if (step) useSides.setState({ one: { kind: "now" }, other: { kind: "muted", step } });
  }, [touched, part, chosen]);
}

function Sides({ data, one, other, names }: { data: WhatIfView; one: Side; other: Side; names: [string, string] }) {
  const chosen = useSides((sides) => sides.channels.length);
  const first = usePose(one);
  const second = usePose(other);
  // The same things as long as nothing changes, so that the camera stays where it was put.
  const poses = useMemo((): [Pose, Pose] => [first ?? nowhere, second ?? nowhere], [first, second]);
  const parts = [...new Set(data.differences.map((each) => each.part))].join(" ");
  const focus = useMemo(() => parts.split(" "), [parts]);
  const looped = data.loops[0] !== data.loops[1];
  return (
    <>
      <span style={{ fontSize: 12, color: ink.quiet }}>
        dashed: {names[0]} · solid: {names[1]}
        {looped && ` · loops: ${String(data.loops[0])} and ${String(data.loops[1])}`}
      </span>
      <ChooseChannels />
      <SmallCurves view={data} most={chosen || 3} all={chosen > 0} />
      <div style={{ height: 200, border: `1px solid ${ink.line}`, borderRadius: 8, overflow: "hidden" }}>
        {first && second && <View3D focus={focus} poses={poses} />}
      </div>
      <span style={{ fontSize: 12, color: ink.quiet }}>pale: {names[0]} · in full: {names[1]}</span>
    </>
  );
}

/** Which channels are compared. */
function ChooseChannels() {
  const channels = useSides((sides) => sides.channels);
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const options = order.flatMap((id) => (parts[id]?.channels ?? []).map((one) => ({ value: `${id}/${one.id}`, label: `${parts[id]?.name ?? ""}.${one.name}` })));
  return (
    <Select
      mode="multiple"
      size="small"
      allowClear
      aria-label="Channels to compare"
      placeholder="the channels that differ most"
      maxCount={40}
      showSearch={byName}
      value={channels.filter((key) => options.some(({ value }) => value === key))}
      options={options}
      onChange={(next) => { useSides.setState({ channels: next }); }}
    />
  );
}

/** Makes the scene what one side shows, once it is known by which edits. */
function Keep({ which, choice, edits, name }: { which: "first" | "second"; choice: SideChoice; edits: WhatIfView["one_edits"] | null; name: string }) {
  const edit = useEdit();
  const { message } = App.useApp();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const now = useOpenScene((scene) => scene.header.revision);
  if (choice.kind === "now") return null;
  const same = choice.kind === "revision" && choice.revision === now;
  const keep = async () => {
    if (choice.kind === "revision") {
      try { await restore(sceneId, choice.revision); } catch (error) { void message.error(reason(error), 6); return; }
    } else if (!edits || !(await edit(...edits))) return;
    useSides.setState({ touched: true, one: { kind: "now" }, other: { kind: "now" } });
  };
  return <Button size="small" disabled={same || !edits} title={`Make the scene: ${name}`} onClick={() => void keep()}>Keep {which}</Button>;
}

/** Saves a comparison with the scene. */
function Save({ one, other }: { one: SideChoice; other: SideChoice }) {
  const edit = useEdit();
  const [name, setName] = useState("");
  const first = variantOf(one, other);
  const second = variantOf(other, one);
  if (!first || !second) return null;
  const save = async () => {
    if (await edit({ do: "put what if", name: name.trim(), one: [first], other: [second] })) setName("");
  };
  return (
    <Space size={6}>
      <Input size="small" aria-label="Name of the What if" placeholder="name to save it" value={name} onChange={(event) => { setName(event.target.value); }} onPressEnter={() => void save()} />
      <Button size="small" disabled={!name.trim()} onClick={() => void save()}>Save</Button>
    </Space>
  );
}
