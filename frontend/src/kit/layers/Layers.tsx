import { Button, Checkbox, Input, Radio, Segmented, Space } from "antd";
import { useState } from "react";

import type { Layer } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { useChosenLayer, useKeyState } from "../../state/keying";
import { useChosenPart, useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { useBlock, useSamples, valueAt } from "../../state/samples";
import { chooseChannel, useSelection } from "../../state/selection";
import { counted, shown } from "../../shared/format";
import { ink } from "../../shared/theme";

/** A layer of curves, and to which layer keys go. */
export function LayerForm({ id }: { id: string }) {
  const layers = useOpenScene((scene) => scene.header.layers);
  const chosen = useChosenLayer();
  const place = layers.findIndex((one) => one.id === id);
  const layer = layers[place];
  if (!layer) return null;
  return (
    <>
      <LayerRow layer={layer} place={place} last={layers.length - 1} />
      <Radio checked={chosen === null} title="Keys go to the channels’ own curves" onChange={() => { useKeyState.setState({ layer: null }); }}>keys go to the base</Radio>
    </>
  );
}

/** Makes a layer on top of the others; keys go to it from then on. */
export function MakeLayer({ onMade }: { onMade: () => void }) {
  const edit = useEdit();
  const part = useChosenPart();
  const [name, setName] = useState("");
  const [mode, setMode] = useState<"add" | "replace">("add");
  const add = () => {
    if (!part || !name.trim()) return;
    void edit({ do: "add layer", name: name.trim(), part: part.id, mode }).then((stored) => {
      if (!stored) return;
      onMade();
      const { layers } = useOpenScene.getState().header;
      useKeyState.setState({ layer: layers.at(-1)?.id ?? null });
    });
  };
  return (
    <div style={{ display: "grid", gap: 5 }}>
      <Input size="small" aria-label="Name of the new layer" placeholder="name of a new layer" value={name} onChange={(event) => { setName(event.target.value); }} onPressEnter={add} />
      <Space size={4}>
        <Segmented size="small" aria-label="What the layer does" options={["add", "replace"]} value={mode} onChange={(value) => { setMode(value as "add" | "replace"); }} />
        <Button size="small" disabled={!part || !name.trim()} title={part ? "Adds it on top of the others" : "Choose a part first"} onClick={add}>Add layer</Button>
      </Space>
      <span style={{ color: ink.quiet, fontSize: 11.5 }}>{part ? `Its weight becomes a channel of ${part.name}.` : "Choose the part that is to have the layer’s weight as a channel."}</span>
    </div>
  );
}

const word = { fontSize: 12, paddingInline: 5 } as const;

function LayerRow({ layer, place, last }: { layer: Layer; place: number; last: number }) {
  const edit = useEdit();
  const chosen = useKeyState((keying) => keying.layer === layer.id);
  const held = useOpenScene(
    (scene) => Object.values(scene.parts).reduce((sum, part) => sum + part.channels.filter((one) => one.on_layers[layer.id]).length, 0),
  );
  const change = (what: { on?: boolean; solo?: boolean; mode?: "add" | "replace"; name?: string }) =>
    void edit({ do: "change layer", layer: layer.id, ...what });
  const on = layer.on ?? true;
  return (
    <section aria-label={`Layer ${layer.name}`} style={{ border: `1px solid ${chosen ? ink.ink : ink.line}`, borderRadius: 6, background: ink.field, padding: "5px 8px", opacity: on ? 1 : 0.6 }}>
      <div style={{ display: "flex", alignItems: "center", gap: 4 }}>
        <Radio checked={chosen} aria-label={`Keys go to ${layer.name}`} style={{ flex: 1, marginInlineEnd: 0 }} onChange={() => { useKeyState.setState({ layer: layer.id }); }}>keys go to it</Radio>
        <Weight layer={layer} />
      </div>
      <div style={{ display: "flex", alignItems: "center", gap: 6, color: ink.quiet, fontSize: 12, margin: "3px 0" }}>
        <Segmented<"add" | "replace"> size="small" aria-label={`What ${layer.name} does with what is below`} options={["add", "replace"]} value={layer.mode ?? "add"} onChange={(mode) => { change({ mode }); }} />
        {counted(held, "channel")}
      </div>
      <Space size={2}>
        <Checkbox checked={!on} onChange={() => { change({ on: !on }); }}>mute</Checkbox>
        <Checkbox checked={layer.solo ?? false} onChange={() => { change({ solo: !(layer.solo ?? false) }); }}>solo</Checkbox>
        <Button type="text" size="small" disabled={place === last} title="Higher in the pile" onClick={() => void edit({ do: "move layer", layer: layer.id, position: place + 1 })}>↑</Button>
        <Button type="text" size="small" disabled={place === 0} title="Lower in the pile" onClick={() => void edit({ do: "move layer", layer: layer.id, position: place - 1 })}>↓</Button>
      </Space>
      <Space size={0}>
        <HoldButtons layer={layer} />
        <Button type="text" size="small" style={word} title="Into the layer below, or the channels’ own keys; no frame changes" onClick={() => void edit({ do: "merge layer", layer: layer.id })}>merge down</Button>
      </Space>
    </section>
  );
}

/** Lets the layer hold the chosen channel, or no longer. */
function HoldButtons({ layer }: { layer: Layer }) {
  const edit = useEdit();
  const part = useChosenPart();
  const id = useSelection(({ channel }) => channel);
  const channel = part?.channels.find((one) => one.id === id);
  if (!part || !channel || channel.id.endsWith(".weight")) return null;
  const held = channel.on_layers[layer.id] !== undefined;
  const where = { do: "hold channel" as const, layer: layer.id, part: part.id, channel: channel.id };
  return (
    <Button type="text" size="small" style={word} title={`${held ? "Take" : "Put"} ${part.name}.${channel.name} ${held ? "off" : "on"} the layer`} onClick={() => void edit({ ...where, frame: usePlayer.getState().frame, held: !held })}>
      {held ? "− channel" : "+ channel"}
    </Button>
  );
}

/** The layer's weight at the playhead; a click goes to the channel. */
function Weight({ layer }: { layer: Layer }) {
  const block = useBlock(`${layer.part}/${layer.id}.weight/final`);
  const first = useSamples((samples) => samples.first);
  const value = usePlayer(({ frame }) => valueAt(block, frame, first));
  return (
    <button type="button" title="Go to the channel of its weight, to set, key or drive it" onClick={() => { chooseChannel(layer.part, `${layer.id}.weight`); }} className="bare" style={{ textDecoration: "underline dotted", whiteSpace: "nowrap" }}>
      weight <span className="mono">{shown(value ?? 1, "", 2)}</span>
    </button>
  );
}
