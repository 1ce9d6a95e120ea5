import { Button, Input, Space } from "antd";
import { useState } from "react";

import type { PartSet } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { channelsInScope, channelsOf, useKeyState } from "../../state/keying";
import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { chooseParts, useSelection } from "../../state/selection";
import { hideParts, isolateParts } from "../../state/showing";
import { NearKeys } from "../../shared/NearKeys";
import { nearKeys } from "../../shared/near";
import { TextField } from "../../shared/TextField";
import { ink } from "../../shared/theme";

/** Saved sets: choose, isolate, use as key scope, change. */
export function Sets() {
  const sets = useOpenScene((scene) => scene.header.sets);
  return (
    <div className="scroll" style={{ flex: 1, padding: "8px 10px" }}>
      <AddSet />
      {sets.map((set) => (
        <SetRow key={set.id} set={set} />
      ))}
      {!sets.length && (
        <p style={{ color: ink.quiet }}>
          No sets yet. Choose parts and save them as a set: to choose, hide or isolate them again,
          and as a key scope that never forgets a switch.
        </p>
      )}
    </div>
  );
}

function AddSet() {
  const edit = useEdit();
  const [name, setName] = useState("");
  const count = useSelection(({ parts }) => parts.length);
  const add = (channels: [string, string][], parts: string[]) => {
    void edit({ do: "put set", name: name.trim(), parts, channels }).then((stored) => {
      if (stored) setName("");
    });
  };
  return (
    <div style={{ display: "grid", gap: 5, marginBottom: 8 }}>
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
          Save {count || "no"} parts
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

function SetRow({ set }: { set: PartSet }) {
  const edit = useEdit();
  const names = useOpenScene((scene) => scene.parts);
  const inScope = useKeyState(({ scope }) => scope === `set:${set.id}`);
  const parts = set.parts ?? [];
  const channels = (set.channels ?? []) as [string, string][];
  const members = [...new Set([...parts, ...channels.map(([part]) => part)])];
  const change = (what: Partial<PartSet>) =>
    void edit({ do: "put set", id: set.id, name: set.name, colour: set.colour ?? "#C9A66B", parts, channels, ...what });
  const addChannel = () => {
    const { part, channel } = useSelection.getState();
    if (part && channel) change({ channels: [...channels, [part, channel]] });
  };
  return (
    <section aria-label={`Set ${set.name}`} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: "5px 8px", marginBottom: 6 }}>
      <div style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <input
          type="color"
          aria-label={`Colour of ${set.name}`}
          value={set.colour ?? "#C9A66B"}
          onChange={(event) => { change({ colour: event.target.value }); }}
          style={{ width: 18, height: 18, border: 0, padding: 0, background: "none" }}
        />
        <TextField label={`Name of the set ${set.name}`} value={set.name} width="100%" strong onCommit={(name) => edit({ do: "put set", id: set.id, name, colour: set.colour ?? "#C9A66B", parts, channels })} />
        <SetKeys parts={parts} channels={channels} />
        <span style={{ color: ink.quiet, fontSize: 12 }} title={members.map((id) => names[id]?.name).join(", ")}>
          {parts.length ? `${String(parts.length)} parts` : ""} {channels.length ? `${String(channels.length)} ch.` : ""}
        </span>
      </div>
      <Space size={2} wrap>
        <Button type="text" size="small" title="Choose its parts" onClick={() => { chooseParts(members); }}>choose</Button>
        <Button type="text" size="small" title="Show these parts alone" onClick={() => { isolateParts(members); }}>isolate</Button>
        <Button type="text" size="small" title="Hide these parts in the view" onClick={() => { hideParts(members); }}>hide</Button>
        <Button type="text" size="small" aria-pressed={inScope} title="Keys go to just these channels" onClick={() => { useKeyState.setState({ scope: inScope ? "channel" : `set:${set.id}` }); }} style={inScope ? { background: ink.chosen } : {}}>scope</Button>
        <Button type="text" size="small" title="Put the chosen parts into the set" onClick={() => { change({ parts: [...parts, ...useSelection.getState().parts] }); }}>+ parts</Button>
        <Button type="text" size="small" title="Put the chosen channel into the set, such as a switch that belongs to the pose" onClick={addChannel}>+ channel</Button>
        <Button type="text" size="small" title="Delete the set; its members stay" onClick={() => void edit({ do: "remove set", id: set.id })}>delete</Button>
      </Space>
    </section>
  );
}
