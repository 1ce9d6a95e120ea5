import { Button, Dropdown, Select, Space } from "antd";
import { memo, useState } from "react";

import { useCommand, useEdit } from "../../state/useEdit";
import { useKeyState } from "../../state/keying";
import { usePlayer } from "../../state/player";
import { useSelection } from "../../state/selection";
import { Amount, Apply } from "../../shared/Amount";
import { isNumber, typed } from "../../shared/arithmetic";
import { Hint } from "../../shared/Hint";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";
import { asMenu } from "../../shared/menus";
import { Degrees } from "./Degrees";
import { chosenPicks, keyCommands, pickedWords, valueForKeys } from "./keyCommands";

/** Commands on the chosen keys: tangents and shape, time, values. */
export const KeyTools = memo(function KeyTools() {
  const edit = useEdit();
  const commands = keyCommands(edit);
  const items = (section: string) =>
    commands
      .filter((command) => command.section === section)
      .map(({ name, hint }) => ({ key: name, label: <span title={hint}>{name}</span> }));
  return (
    <Space size={4}>
      <Dropdown
        trigger={["click"]}
        {...asMenu("Shape")}
        menu={{
          items: [{ type: "group", key: "picked", label: <Heading what="Shape" />, children: [] }, ...items("tangents"), { type: "divider" }, ...items("shape"), { type: "divider" }, ...items("time")],
          onClick: ({ key }) => { commands.find(({ name }) => name === key)?.run(); },
        }}
      >
        <Button size="small" style={tight} title="Tangents, holds, cycles and nudges for the chosen keys">Shape…</Button>
      </Dropdown>
      <Popup placement="topRight" title={<Heading what="Time" />} content={(close) => <TimeForm onDone={close} />}>
        <Button size="small" style={tight} title="Scale in time, insert or take out frames, crop">Time…</Button>
      </Popup>
      <Popup placement="topRight" title={<Heading what="Values" />} content={(close) => <><Degrees onDone={close} /><ValueForm onDone={close} /></>}>
        <Button size="small" style={tight} title="By degrees toward a neighbour, the default, the mirrored pose, another frame; smooth; thin; scale, add">Values…</Button>
      </Popup>
    </Space>
  );
});

/** What a menu is for, and which keys it works on. */
export function Heading({ what }: { what: string }) {
  useSelection(({ keys, part, channel }) => `${String(keys.length)} ${part ?? ""} ${channel ?? ""}`);
  useKeyState(({ scope, layer }) => `${scope} ${layer ?? ""}`);
  return <>{what}: {pickedWords()}</>;
}

const tight = { paddingInline: 6 } as const;
const row = { display: "flex", alignItems: "center", gap: 6 } as const;

function Field({ label, value, good, onChange }: { label: string; value: string; good?: boolean; onChange: (text: string) => void }) {
  return (
    <label style={{ color: ink.quiet }}>
      {label} <Amount label={label} value={value} {...(good === undefined ? {} : { good })} onChange={onChange} />
    </label>
  );
}

function TimeForm({ onDone }: { onDone: () => void }) {
  const command = useCommand();
  const [frame] = useState(() => usePlayer.getState().frame);
  const [draft, setDraft] = useState({ factor: "2", about: String(frame), at: String(frame), count: "4", first: String(frame), last: String(frame + 24) });
  const set = (name: keyof typeof draft) => (text: string) => { setDraft({ ...draft, [name]: text }); };
  const number = (name: keyof typeof draft) => typed(draft[name], 0) ?? 0;
  const span = { at: number("at"), count: number("count") };
  const good = (...names: (keyof typeof draft)[]) => names.every((name) => isNumber(draft[name]));
  return (
    <div style={{ display: "grid", gap: 8 }}>
      <div style={row}>
        <Field label="scale by" value={draft.factor} onChange={set("factor")} />
        <Field label="about frame" value={draft.about} onChange={set("about")} />
        <Apply good={good("factor", "about")} onClick={() => void command(onDone, { do: "scale time", picks: chosenPicks(), about: number("about"), factor: number("factor") })}>Scale</Apply>
        <Apply good={good("factor", "about")} title="And put the keys on whole frames" onClick={() => void command(onDone, { do: "scale time", picks: chosenPicks(), about: number("about"), factor: number("factor"), snap: true })}>Scale, snap</Apply>
      </div>
      <div style={row}>
        <Field label="at frame" value={draft.at} onChange={set("at")} />
        <Field label="frames" value={draft.count} onChange={set("count")} />
        <Hint title="Holds the value for so long; both sides keep their shape">
          <Apply good={good("at", "count")} onClick={() => void command(onDone, { do: "insert frames", ...span, picks: chosenPicks(), pause: true })}>Pause</Apply>
        </Hint>
        <Apply good={good("at", "count")} onClick={() => void command(onDone, { do: "insert frames", ...span, picks: chosenPicks() })}>Insert</Apply>
        <Apply good={good("at", "count")} onClick={() => void command(onDone, { do: "take out frames", first: span.at, count: span.count, picks: chosenPicks() })}>Take out</Apply>
      </div>
      <div style={row}>
        <span style={{ color: ink.quiet, flex: 1 }}>The whole scene, markers and range too:</span>
        <Apply good={good("at", "count")} onClick={() => void command(onDone, { do: "insert frames", ...span })}>Insert frames</Apply>
        <Apply good={good("at", "count")} onClick={() => void command(onDone, { do: "take out frames", first: span.at, count: span.count })}>Take out frames</Apply>
      </div>
      <div style={row}>
        <Field label="from" value={draft.first} onChange={set("first")} />
        <Field label="to" value={draft.last} onChange={set("last")} />
        <Apply good={good("first", "last")} title="Keeps the keys between, and the shape" onClick={() => void command(onDone, { do: "crop keys", first: number("first"), last: number("last"), picks: chosenPicks() })}>Crop</Apply>
      </div>
    </div>
  );
}

const abouts = {
  left: "the key on the left",
  right: "the key on the right",
  average: "their average",
  default: "the default",
  value: "a value",
  frame: "the value at the playhead",
} as const;

function ValueForm({ onDone }: { onDone: () => void }) {
  const command = useCommand();
  const [about, setAbout] = useState<keyof typeof abouts>("average");
  const [factor, setFactor] = useState("0.5");
  const [value, setValue] = useState("0");
  const [by, setBy] = useState("1");
  const read = (text: string) => valueForKeys(text, chosenPicks());
  const scale = () => {
    const atFrame = about === "frame";
    void command(onDone, {
      do: "scale values",
      picks: chosenPicks(),
      factor: typed(factor, 1) ?? 1,
      about: atFrame ? "value" : about,
      value: read(value) ?? 0,
      frame: atFrame ? usePlayer.getState().frame : null,
    });
  };
  return (
    <div style={{ display: "grid", gap: 8, borderTop: `1px solid ${ink.line}`, marginTop: 8, paddingTop: 8 }}>
      <div style={row}>
        <Field label="scale by" value={factor} onChange={setFactor} />
        <span style={{ color: ink.quiet }}>about</span>
        <Select size="small" aria-label="about" style={{ width: 172 }} value={about} onChange={setAbout} options={Object.entries(abouts).map(([key, label]) => ({ value: key as keyof typeof abouts, label }))} />
        {about === "value" && <Field label="value" value={value} good={read(value) !== undefined} onChange={setValue} />}
        <Apply good={isNumber(factor) && (about !== "value" || read(value) !== undefined)} onClick={scale}>Scale</Apply>
      </div>
      <div style={row}>
        <Field label="add" value={by} good={read(by) !== undefined} onChange={setBy} />
        <Apply good={read(by) !== undefined} onClick={() => void command(onDone, { do: "move keys", picks: chosenPicks(), value: read(by) ?? 0 })}>Add to values</Apply>
      </div>
    </div>
  );
}
