import { Button, Dropdown, Input, Select, Space, Tooltip } from "antd";
import { memo, useState } from "react";

import { useCommand, useEdit } from "../../state/useEdit";
import { useKeyState } from "../../state/keying";
import { usePlayer } from "../../state/player";
import { useSelection } from "../../state/selection";
import { typed } from "../../shared/arithmetic";
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

function Field({ label, value, onChange }: { label: string; value: string; onChange: (text: string) => void }) {
  return (
    <label style={{ color: ink.quiet }}>
      {label}{" "}
      <Input
        size="small"
        className="mono"
        aria-label={label}
        aria-invalid={typed(value, 0) === undefined}
        style={{ width: 62 }}
        value={value}
        onChange={(event) => { onChange(event.target.value); }}
      />
    </label>
  );
}

function TimeForm({ onDone }: { onDone: () => void }) {
  const command = useCommand();
  const [frame] = useState(() => usePlayer.getState().frame);
  const [draft, setDraft] = useState({ factor: "2", about: String(frame), at: String(frame), count: "4", first: String(frame), last: String(frame + 24) });
  const set = (name: keyof typeof draft) => (text: string) => { setDraft({ ...draft, [name]: text }); };
  const number = (name: keyof typeof draft) => typed(draft[name], 0) ?? 0;
  const whole = (name: keyof typeof draft) => ({ at: number("at"), count: number(name) });
  return (
    <div style={{ display: "grid", gap: 8 }}>
      <div style={row}>
        <Field label="scale by" value={draft.factor} onChange={set("factor")} />
        <Field label="about frame" value={draft.about} onChange={set("about")} />
        <Button size="small" onClick={() => void command(onDone, { do: "scale time", picks: chosenPicks(), about: number("about"), factor: number("factor") })}>Scale</Button>
        <Button size="small" title="And put the keys on whole frames" onClick={() => void command(onDone, { do: "scale time", picks: chosenPicks(), about: number("about"), factor: number("factor"), snap: true })}>Scale, snap</Button>
      </div>
      <div style={row}>
        <Field label="at frame" value={draft.at} onChange={set("at")} />
        <Field label="frames" value={draft.count} onChange={set("count")} />
        <Tooltip title="Holds the value for so long; both sides keep their shape">
          <Button size="small" onClick={() => void command(onDone, { do: "insert frames", ...whole("count"), picks: chosenPicks(), pause: true })}>Pause</Button>
        </Tooltip>
        <Button size="small" onClick={() => void command(onDone, { do: "insert frames", ...whole("count"), picks: chosenPicks() })}>Insert</Button>
        <Button size="small" onClick={() => void command(onDone, { do: "take out frames", first: number("at"), count: number("count"), picks: chosenPicks() })}>Take out</Button>
      </div>
      <div style={row}>
        <span style={{ color: ink.quiet, flex: 1 }}>The whole scene, markers and range too:</span>
        <Button size="small" onClick={() => void command(onDone, { do: "insert frames", ...whole("count") })}>Insert frames</Button>
        <Button size="small" onClick={() => void command(onDone, { do: "take out frames", first: number("at"), count: number("count") })}>Take out frames</Button>
      </div>
      <div style={row}>
        <Field label="from" value={draft.first} onChange={set("first")} />
        <Field label="to" value={draft.last} onChange={set("last")} />
        <Button size="small" title="Keeps the keys between, and the shape" onClick={() => void command(onDone, { do: "crop keys", first: number("first"), last: number("last"), picks: chosenPicks() })}>Crop</Button>
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
  const scale = () => {
    const atFrame = about === "frame";
    void command(onDone, {
      do: "scale values",
      picks: chosenPicks(),
      factor: typed(factor, 1) ?? 1,
      about: atFrame ? "value" : about,
      value: valueForKeys(value, chosenPicks()),
      frame: atFrame ? usePlayer.getState().frame : null,
    });
  };
  return (
    <div style={{ display: "grid", gap: 8, borderTop: `1px solid ${ink.line}`, marginTop: 8, paddingTop: 8 }}>
      <div style={row}>
        <Field label="scale by" value={factor} onChange={setFactor} />
        <span style={{ color: ink.quiet }}>about</span>
        <Select size="small" aria-label="about" style={{ width: 172 }} value={about} onChange={setAbout} options={Object.entries(abouts).map(([key, label]) => ({ value: key as keyof typeof abouts, label }))} />
        {about === "value" && <Field label="value" value={value} onChange={setValue} />}
        <Button size="small" onClick={scale}>Scale</Button>
      </div>
      <div style={row}>
        <Field label="add" value={by} onChange={setBy} />
        <Button size="small" onClick={() => void command(onDone, { do: "move keys", picks: chosenPicks(), value: valueForKeys(by, chosenPicks()) })}>Add to values</Button>
      </div>
    </div>
  );
}
