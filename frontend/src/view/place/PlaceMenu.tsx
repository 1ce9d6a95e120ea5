import { App, Button, Checkbox, Input, Segmented, Select, Space } from "antd";
import { useState } from "react";
import { create } from "zustand";

import type { OneEdit } from "../../api/client";
import { get, reason } from "../../api/client";
import { useCommand } from "../../state/useEdit";
import { useChosenPart, useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { useSamples, useWants } from "../../state/samples";
import { useSelection } from "../../state/selection";
import { byName } from "../../shared/byName";
import { Amount, Apply } from "../../shared/Amount";
import { isNumber, typed } from "../../shared/arithmetic";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";
import { PartSelect } from "../../ledger/binding/fields";
import { worldAt, worldName } from "../world";

type Relation = NonNullable<Extract<OneEdit, { do?: "put where" }>["relation"]>;
type When = "here" | "span" | "keys";

/** A relationship that was copied, to be pasted on other frames or other parts. */
const useCopied = create<{ relation: Relation | null; words: string }>(() => ({ relation: null, words: "" }));

/** Puts parts where others are, turns them about a point, keeps children, writes bindings out. */
export function PlaceMenu() {
  return (
    <Popup label="Place" placement="bottomRight" content={(close) => <Menu onDone={close} />}>
      <Button size="small" title="Put where another is, copy a relationship, turn about a point, keep children, write out">place…</Button>
    </Popup>
  );
}

function Menu({ onDone }: { onDone: () => void }) {
  const part = useChosenPart();
  const [what, setWhat] = useState("put");
  if (!part) return <span style={{ color: ink.quiet }}>Choose a part first.</span>;
  const shown = { put: PutWhere, turn: TurnAbout, children: Children, "write out": WriteOut }[what] ?? PutWhere;
  const Shown = shown;
  return (
    <div style={{ display: "grid", gap: 9, width: 318 }}>
      <Segmented size="small" block aria-label="What to do with the place" value={what} options={["put", "turn", "children", "write out"]} onChange={setWhat} />
      <Shown part={part.id} name={part.name} onDone={onDone} />
    </div>
  );
}

interface Props {
  part: string;
  name: string;
  onDone: () => void;
}

/** The part where another one is, or in the copied relationship to it. */
function PutWhere({ part, name, onDone }: Props) {
  const command = useCommand();
  const { message } = App.useApp();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const other = useSelection(({ parts, part: last }) => parts.find((id) => id !== last));
  const [where, setWhere] = useState(other ?? "");
  const [when, setWhen] = useState<When>("here");
  const [groups, setGroups] = useState(["position", "rotation"]);
  const copied = useCopied();
  const span = useSpan();
  const good = when === "here" || span.good;
  const put = (relation: Relation) => {
    const frame = usePlayer.getState().frame;
    const [first, last] = when === "here" ? [frame, null] : span.value();
    void command(onDone, { do: "put where", part, other: where, first, last, position: groups.includes("position"), rotation: groups.includes("rotation"), relation, on: when === "keys" ? "keys" : "every frame" });
  };
  const copy = async () => {
    const query = new URLSearchParams({ part, other: where, frame: String(usePlayer.getState().frame) });
    try {
      const { relation } = await get<{ relation: Relation }>(`/api/scenes/${String(sceneId)}/relation?${query.toString()}`);
      const at = useOpenScene.getState().parts[where]?.name ?? "";
      useCopied.setState({ relation, words: `${name} to ${at}` });
    } catch (error) {
      void message.error(reason(error), 6);
    }
  };
  return (
    <>
      <span><strong>{name}</strong> and <PartSelect label="The other part" value={where} none={where ? [] : [{ value: "", label: "choose …" }]} without={part} width={150} onChange={setWhere} /></span>
      <When when={when} onChange={setWhen} span={span} />
      <Checkbox.Group value={groups} options={["position", "rotation"]} onChange={setGroups} />
      <Space size={6} wrap>
        <Apply type="primary" good={good} disabled={!where || !groups.length} onClick={() => { put({}); }}>Put it there</Apply>
        <Button size="small" disabled={!where} title="How the part stands to the other one on this frame" onClick={() => void copy()}>Copy relationship</Button>
        <Apply good={good} disabled={!where || !copied.relation} onClick={() => { if (copied.relation) put(copied.relation); }}>Paste</Apply>
      </Space>
      {copied.relation && <span style={{ color: ink.quiet, fontSize: 12 }}>copied: {copied.words}</span>}
    </>
  );
}

const places = ["*/world matrix/final"];

/** A passing pivot. */
function TurnAbout({ part, onDone }: Props) {
  const command = useCommand();
  useWants(places);
  const chosen = useSelection((selection) => selection.parts);
  const parts = chosen.includes(part) ? chosen : [part];
  const [point, setPoint] = useState("0, 0, 0");
  const [turn, setTurn] = useState("0, 90, 0");
  const turned = () => {
    const [about, by] = [numbers(point), numbers(turn)];
    if (about && by) void command(onDone, { do: "turn about", parts, frame: usePlayer.getState().frame, point: about, turn: by });
  };
  const good = numbers(point) !== null && numbers(turn) !== null;
  return (
    <>
      <span>about the point <Input size="small" className="mono" aria-label="Point to turn about" style={{ width: 118 }} value={point} onChange={(event) => { setPoint(event.target.value); }} /> m</span>
      <span>or where <PartSelect label="Point from a part" value="–" none={[{ value: "–", label: "a part" }]} without="" width={130} onChange={(id) => { const at = placeOf(id); if (at) setPoint(at); }} /> is now</span>
      <span>by <Input size="small" className="mono" aria-label="Degrees about x, y, z" style={{ width: 118 }} value={turn} onChange={(event) => { setTurn(event.target.value); }} /> ° about x, y, z of the world</span>
      <Button size="small" type="primary" disabled={!good} title={good ? "" : threeNumbers} onClick={turned} style={{ justifySelf: "start" }}>Turn {parts.length > 1 ? `${String(parts.length)} parts` : "it"}</Button>
    </>
  );
}

/** Where a part is in the world on the playhead's frame, as text. */
function placeOf(part: string): string | null {
  const matrix = worldAt(useSamples.getState().blocks[worldName(part)]);
  if (!matrix) return null;
  return [3, 7, 11].map((place) => String(Number((matrix[place] ?? 0).toFixed(4)))).join(", ");
}

/** The root moved under its children, or its motion given to them. */
function Children({ part, name, onDone }: Props) {
  const command = useCommand();
  const span = useSpan();
  const [move, setMove] = useState("0, 0, 0");
  const [given, setGiven] = useState<string[]>([]);
  const parts = useOpenScene((scene) => scene.parts);
  const options = Object.values(parts).filter(({ parent }) => parent === part).map(({ id, name: label }) => ({ value: id, label }));
  const way = numbers(move);
  const moved = () => {
    const [first, last] = span.value();
    if (way) void command(onDone, { do: "move root", part, frame: usePlayer.getState().frame, first, last, move: way });
  };
  return (
    <>
      <span>move {name} by <Input size="small" className="mono" aria-label="Move by" style={{ width: 110 }} value={move} onChange={(event) => { setMove(event.target.value); }} /> m</span>
      <SpanFields span={span} />
      <Apply type="primary" good={span.good} disabled={!way} title={way ? "" : threeNumbers} onClick={moved} style={{ justifySelf: "start" }}>Move it, children stay</Apply>
      <span style={{ color: ink.quiet, fontSize: 12 }}>Its children keep their places in the world over these frames, by keys.</span>
      <Select size="small" mode="multiple" allowClear aria-label="Children that take its motion" placeholder="all its children" showSearch={byName} value={given} options={options} onChange={setGiven} />
      <Button size="small" disabled={!options.length} onClick={() => void command(onDone, { do: "give motion", part, children: given })} style={{ justifySelf: "start" }}>Give its motion to {given.length ? "these" : "its children"}</Button>
    </>
  );
}

/** What binds the part, as keys. */
function WriteOut({ part, name, onDone }: Props) {
  const command = useCommand();
  const span = useSpan();
  const [few, setFew] = useState(false);
  const [tolerance, setTolerance] = useState("0.01");
  const good = span.good && (!few || isNumber(tolerance));
  const write = () => {
    const [first, last] = span.value();
    void command(onDone, { do: "write out", part, first, last, tolerance: few ? (typed(tolerance, 0.01) ?? 0.01) : null });
  };
  return (
    <>
      <SpanFields span={span} />
      <Checkbox checked={few} onChange={() => { setFew(!few); }}>
        as few keys as keep within <Amount label="Tolerance" disabled={!few} value={tolerance} onChange={setTolerance} /> m and °
      </Checkbox>
      <Apply type="primary" good={good} onClick={write} style={{ justifySelf: "start" }}>Write {name} out as keys</Apply>
      <span style={{ color: ink.quiet, fontSize: 12 }}>Over the whole range the steps that bind it are muted; over less, their weights are 0 there.</span>
    </>
  );
}

function When({ when, onChange, span }: { when: When; onChange: (when: When) => void; span: Span }) {
  return (
    <>
      <Segmented<When> size="small" aria-label="On which frames" value={when} options={[{ value: "here", label: "this frame" }, { value: "span", label: "a span" }, { value: "keys", label: "its keys in a span" }]} onChange={onChange} />
      {when !== "here" && <SpanFields span={span} />}
    </>
  );
}

interface Span {
  first: string;
  last: string;
  set: (first: string, last: string) => void;
  /** Whether both ends can be read. */
  good: boolean;
  value: () => [number, number];
}

/** A span of frames; at first the whole range. */
function useSpan(): Span {
  const [first, setFirst] = useState(() => String(useOpenScene.getState().header.first));
  const [last, setLast] = useState(() => String(useOpenScene.getState().header.last));
  return {
    first,
    last,
    set: (from, to) => {
      setFirst(from);
      setLast(to);
    },
    good: isNumber(first) && isNumber(last),
    value: () => [Math.round(typed(first, 0) ?? 0), Math.round(typed(last, 0) ?? 0)],
  };
}

function SpanFields({ span }: { span: Span }) {
  return (
    <span>
      from <Amount label="First frame of the span" value={span.first} onChange={(first) => { span.set(first, span.last); }} /> to{" "}
      <Amount label="Last frame of the span" value={span.last} onChange={(last) => { span.set(span.first, last); }} />
    </span>
  );
}

const threeNumbers = "Write three numbers, such as 0, 90, 0";

/** Three numbers with commas between, or else blanks. */
function numbers(text: string): [number, number, number] | null {
  const found = text.trim().split(text.includes(",") ? /\s*,\s*/ : /\s+/).map((one) => (one ? typed(one, 0) : null));
  const [x, y, z] = found;
  return found.length === 3 && x != null && y != null && z != null ? [x, y, z] : null;
}
