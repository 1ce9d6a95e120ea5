import { Button, Input, Space } from "antd";
import { useState } from "react";

import type { PartSet, PartView } from "../../api/client";
import { counted } from "../../shared/format";
import { useEdit } from "../../state/useEdit";
import { ColourField } from "../../shared/ColourField";
import { channelsInScope, channelsOf, useKeyState } from "../../state/keying";
import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { chooseParts, useSelection } from "../../state/selection";
import { hideParts, isolateParts } from "../../state/showing";
import { NearKeys } from "../../shared/NearKeys";
import { nearKeys } from "../../shared/near";
import { ink } from "../../shared/theme";
import { membersOf, setEdit } from "./edits";

/** Saves the chosen parts, or what the key scope holds, as a set. */
export function MakeSet({ onMade }: { onMade: () => void }) {
  const edit = useEdit();
  const [name, setName] = useState("");
  const count = useSelection(({ parts }) => parts.length);
  const add = (channels: [string, string][], parts: string[]) => {
    void edit({ do: "put set", name: name.trim(), parts, channels }).then((stored) => { if (stored) onMade(); });
  };
  return (
    <div style={{ display: "grid", gap: 5 }}>
      <Input
        size="small"
        aria-label="Name of the new set"
        placeholder="name of a new set"
       
        value={name}
        onChange={(event) => { setName(event.target.value); }}
        onPressEnter={() => { if (name.trim() && count) add([], useSelection.getState().parts); }}
      />
      <Space size={4}>
        <Button size="small" disabled={!name.trim() || !count} title="All channels of the chosen parts" onClick={() => { add([], useSelection.getState().parts); }}>
          Save {count ? counted(count, "part") : "no parts"}
        </Button>
        <Button size="small" disabled={!name.trim()} title="Just the channels that the key scope holds now" onClick={() => { add(channelsInScope(), []); }}>
          Save the key scope
        </Button>
      </Space>
    </div>
  );
}

/** The keys of all channels of a set near the playhead. */
function SetKeys({ parts, channels }: { parts: string[]; channels: [string, string][] }) {
  const now = usePlayer((player) => player.frame);
  const scene = useOpenScene((open) => open.parts);
  const refs = [...parts.flatMap((id) => channelsOf(scene[id]?.channels ?? [], id, "all")), ...channels];
  const curves = refs.flatMap(([part, id]) => scene[part]?.channels.find((one) => one.id === id)?.curve ?? []);
  return <NearKeys small label="keys of the set" near={nearKeys(curves, now)} now={now} curved={curves.length > 0} />;
}

/** A set: choose, isolate, use as key scope, change. */
export function SetForm({ id }: { id: string }) {
  const set = useOpenScene((scene) => scene.header.sets.find((one) => one.id === id));
  return set ? <SetCard set={set} /> : null;
}

function SetCard({ set }: { set: PartSet }) {
  const edit = useEdit();
  const names = useOpenScene((scene) => scene.parts);
  const inScope = useKeyState(({ scope }) => scope === `set:${set.id}`);
  const parts = set.parts ?? [];
  const channels = (set.channels ?? []) as [string, string][];
  const members = membersOf(set);
  const change = (what: Partial<PartSet>) => void edit(setEdit(set, what));
  const addChannel = () => {
    const { part, channel } = useSelection.getState();
    if (part && channel) change({ channels: [...channels, [part, channel]] });
  };
  return (
    <section aria-label={`Set ${set.name}`} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: "5px 8px" }}>
      <div style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <ColourField label={`Colour of ${set.name}`} value={set.colour ?? "#C9A66B"} style={{ width: 18, height: 18 }} onCommit={(colour) => edit(setEdit(set, { colour }))} />
        <SetKeys parts={parts} channels={channels} />
        <span style={{ color: ink.quiet, fontSize: 12 }} title={members.map((id) => names[id]?.name).join(", ")}>
          {parts.length ? counted(parts.length, "part") : ""} {channels.length ? `${String(channels.length)} ch.` : ""}
        </span>
      </div>
      <Space size={2} wrap>
        <Button type="text" size="small" title="Choose its parts" onClick={() => { chooseParts(members); }}>choose</Button>
        <Button type="text" size="small" title="Show these parts alone" onClick={() => { isolateParts(members); }}>isolate</Button>
        <Button type="text" size="small" title="Hide these parts in the view" onClick={() => { hideParts(members); }}>hide</Button>
        <Button type="text" size="small" aria-pressed={inScope} title="Keys go to just these channels" onClick={() => { useKeyState.setState({ scope: inScope ? "channel" : `set:${set.id}` }); }} style={inScope ? { background: ink.chosen } : {}}>scope</Button>
        <Button type="text" size="small" title="Put the chosen parts into the set" onClick={() => { change({ parts: [...parts, ...useSelection.getState().parts] }); }}>+ parts</Button>
        <Button type="text" size="small" title="Put the chosen channel into the set, such as a switch that belongs to the pose" onClick={addChannel}>+ channel</Button>
      </Space>
      <ul aria-label={`What ${set.name} holds`} style={{ listStyle: "none", margin: "4px 0 0", padding: "4px 0 0", borderTop: `1px solid ${ink.line}`, fontSize: 12 }}>
        {parts.map((id) => <Member key={id} name={names[id]?.name ?? id} onOut={() => { change({ parts: parts.filter((one) => one !== id) }); }} />)}
        {channels.map(([part, id]) => <Member key={`${part}/${id}`} name={channelName(names[part], id)} onOut={() => { change({ channels: channels.filter(([other, one]) => other !== part || one !== id) }); }} />)}
      </ul>
    </section>
  );
}

function channelName(part: PartView | undefined, id: string): string {
  return `${part?.name ?? ""}.${part?.channels.find((one) => one.id === id)?.name ?? id}`;
}

function Member({ name, onOut }: { name: string; onOut: () => void }) {
  return (
    <li style={{ display: "flex", alignItems: "center", minHeight: 20 }}>
      <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }} title={name}>{name}</span>
      <button type="button" className="bare" aria-label={`Take ${name} out of the set`} title="Take it out of the set" style={{ padding: "0 5px", color: ink.quiet }} onClick={onOut}>×</button>
    </li>
  );
}
