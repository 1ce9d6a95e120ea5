import { useState } from "react";

import type { ChannelView, PartView, StepView } from "../api/client";
import { movingChannels } from "../state/curveSet";
import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { useBlock, useSamples, valueAt } from "../state/samples";
import { chooseChannel, chooseStep } from "../state/selection";
import { counted, shown } from "../shared/format";
import type { Tap } from "../shared/taps";
import { tapColour } from "../shared/tapColours";
import { taps } from "../shared/taps";
import { ink } from "../shared/theme";
import { Sparkline } from "./Sparkline";

/** The account of a whole part: what writes in each zone and which channels, each with its small curve;
 * quiet channels are folded. */
export function PartAccount({ part }: { part: PartView }) {
  const moving = new Set(movingChannels(part));
  const quiet = part.channels.filter(({ id }) => !moving.has(id));
  return (
    <div className="scroll" style={{ flex: 1, padding: "0 10px 16px 12px" }} role="region" aria-label={`Account of ${part.name}`}>
      {taps.map((zone, n) => <Zone key={zone} number={n + 1} zone={zone} part={part} />)}
      <Quiet part={part} channels={quiet} />
    </div>
  );
}

function Zone({ number, zone, part }: { number: number; zone: Tap; part: PartView }) {
  const keyed = zone === "keyed" ? part.channels.filter(({ curve }) => curve !== null) : [];
  const steps = part.steps.filter((step) => step.zone === zone);
  return (
    <section aria-label={zone}>
      <div style={{ display: "flex", alignItems: "baseline", gap: 10, padding: "7px 0 2px" }}>
        <span className="mono" style={{ color: ink.quiet, fontSize: 11 }}>{number}</span>
        <span className="caps">{zone}</span>
        {!keyed.length && !steps.length && <span style={{ color: ink.quiet, fontSize: 11.5 }}>nothing writes here</span>}
      </div>
      {keyed.map((channel) => (
        <ChannelLine key={channel.id} part={part} channel={channel} node={`${part.id}/${channel.id}/own`} zone="keyed" keys={channel.curve?.keys.length ?? 0} />
      ))}
      {zone === "keyed" && <OnLayers part={part} />}
      {steps.map((step) => <StepLines key={step.id} part={part} step={step} zone={zone} />)}
    </section>
  );
}

/** What the layers hold of the part. */
function OnLayers({ part }: { part: PartView }) {
  const layers = useOpenScene((scene) => scene.header.layers);
  return layers.map((layer) => {
    const held = part.channels.filter(({ on_layers }) => on_layers[layer.id]);
    if (!held.length) return null;
    return (
      <div key={layer.id} style={{ opacity: (layer.on ?? true) ? 1 : 0.55 }}>
        <div style={{ fontSize: 12 }}><strong>{layer.name}</strong> <span style={{ color: ink.quiet }}>layer</span></div>
        {held.map((channel) => <ChannelLine key={channel.id} part={part} channel={channel} node={`${part.id}/${layer.id}:${channel.id}/own`} zone="keyed" />)}
      </div>
    );
  });
}

function StepLines({ part, step, zone }: { part: PartView; step: StepView; zone: Tap }) {
  const channels = part.channels.filter(({ id }) => step.writes.includes(id));
  return (
    <div style={{ opacity: step.on ? 1 : 0.55 }}>
      <div title={step.description} style={{ fontSize: 12, display: "flex", gap: 6, whiteSpace: "nowrap" }}>
        <strong style={{ overflow: "hidden", textOverflow: "ellipsis" }}>{step.name}</strong>
        <span style={{ color: ink.quiet, overflow: "hidden", textOverflow: "ellipsis" }}>{step.on ? step.settings.kind : "muted"}</span>
      </div>
      {channels.map((channel) => <ChannelLine key={channel.id} part={part} channel={channel} node={`${part.id}/${channel.id}/${zone}`} zone={zone} step={step.id} />)}
    </div>
  );
}

interface LineProps {
  part: PartView;
  channel: ChannelView;
  node: string;
  zone: Tap;
  keys?: number;
  step?: string;
}

/** A channel that is written here: its curve after the zone, its value now; a click opens its ledger. */
function ChannelLine({ part, channel, node, zone, keys, step }: LineProps) {
  const block = useBlock(node);
  const first = useSamples((samples) => samples.first);
  const value = usePlayer(({ frame }) => valueAt(block, frame, first));
  return (
    <button
      type="button"
      className="bare"
      title={`Open the ledger of ${part.name}.${channel.name}${keys === undefined ? "" : ` (${counted(keys, "key")})`}`}
      onClick={() => {
        chooseChannel(part.id, channel.id);
        if (step !== undefined) chooseStep(step);
      }}
      style={{ display: "flex", alignItems: "center", gap: 6, width: "100%", minHeight: 25 }}
    >
      <span className="mono" style={{ flex: 1, minWidth: 0, fontSize: 11.5, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
        {channel.name}{keys !== undefined && <span style={{ color: ink.quiet }}> ·{keys}</span>}
      </span>
      <Sparkline node={node} colour={tapColour[zone]} />
      <span className="mono" style={{ fontSize: 12, width: 72, textAlign: "right" }}>{value === undefined ? "…" : shown(value, channel.unit)}</span>
    </button>
  );
}

function Quiet({ part, channels }: { part: PartView; channels: ChannelView[] }) {
  const [open, setOpen] = useState(false);
  if (!channels.length) return null;
  return (
    <section aria-label="quiet channels" style={{ paddingTop: 8 }}>
      <button type="button" className="bare caps" aria-expanded={open} onClick={() => { setOpen(!open); }}>
        {open ? "▾" : "▸"} {channels.length} quiet
      </button>
      {open && channels.map((channel) => <ChannelLine key={channel.id} part={part} channel={channel} node={`${part.id}/${channel.id}/final`} zone="final" />)}
    </section>
  );
}
