import { Select, Switch } from "antd";
import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";

import type { ChannelView, StepView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { alikeChannels, useChosenLayer, useKeyState } from "../../state/keying";
import { usePlayer } from "../../state/player";
import { feed, useBlock, useSamples, useWants, valueAt } from "../../state/samples";
import { useSelection } from "../../state/selection";
import { inField, shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { giveValue, valueEdit } from "./edits";

interface Props {
  partId: string;
  partName: string;
  channel: ChannelView;
  /** The steps that write the channel. */
  writers: StepView[];
  label?: string;
  width?: number;
  /** What an arrow key adds. */
  step?: number;
}

/** Shows the final value at the playhead; edits what a person sets or keys, on all chosen parts. */
export function ValueField(props: Props) {
  const { partId, partName, channel, label = `${partName}.${channel.name}`, width = 84, step } = props;
  const edit = useEdit();
  const { seen, own, tried, several } = useValues(partId, channel);
  const always = useKeyState(({ autoKey }) => autoKey === "always");
  const count = useSelection(({ parts }) => parts.length);
  const edited = (value: number) => valueEdit(alikeChannels(partId, channel), usePlayer.getState().frame, value);
  const commit = (value: number) => {
    giveValue(edit, alikeChannels(partId, channel), usePlayer.getState().frame, value);
  };
  if (channel.kind === "switch") {
    return (
      <Switch size="small" aria-label={channel.name} checked={(seen ?? own) !== 0} disabled={channel.locked} onChange={(on) => { commit(on ? 1 : 0); }} />
    );
  }
  if (channel.kind === "choice") {
    const options = channel.options.map((label, value) => ({ label, value }));
    return (
      <Select size="small" aria-label={channel.name} style={{ width: 84 }} value={Math.round(seen ?? own)} disabled={channel.locked} options={options} onChange={commit} />
    );
  }
  const ruler = rulerOf(props.writers);
  const hint = [hintOf(props, tried?.frame, count), editedWords(props, own, seen)].filter(Boolean).join(" ");
  const measured = channel.unit === "°" || channel.unit === "m";
  return (
    <NumberField
      label={label}
      value={own}
      text={several ? "several" : seen === undefined ? "…" : inField(seen, measured ? channel.unit : "")}
      stamp={channel}
      unit={channel.unit}
      width={width}
      {...(step === undefined ? {} : { step })}
      meant={several || always || channel.curve !== null || Object.keys(channel.on_layers).length > 0}
      fixed={channel.locked || ruler !== undefined}
      limited={seen !== undefined && atLimit(channel, seen)}
      tried={tried !== undefined}
      keyed={always && !ruler && !channel.locked}
      {...(hint ? { hint } : {})}
      onTry={(value) => { feed.tryOut([edited(value)]); }}
      onCommit={commit}
    />
  );
}

/** What is seen of a channel at the playhead, what of it is edited, and whether the channels of other
 * chosen parts differ. */
function useValues(partId: string, channel: ChannelView) {
  const path = `${partId}/${channel.id}`;
  const layer = useChosenLayer();
  const onLayer = layer !== null && channel.on_layers[layer];
  const stage = onLayer ? `step ${layer}.${partId}.${channel.id}` : layer === null ? "own" : "keyed";
  const keyed = useBlock(channel.curve || layer !== null ? `${path}/${stage}` : null);
  const tried = useKeyState(({ tryOuts }) => tryOuts.find((one) => one.part === partId && one.channel === channel.id));
  const first = useSamples((samples) => samples.first);
  const chosen = useSelection(({ parts }) => parts);
  const finals = useMemo(
    () => (chosen.includes(partId) ? alikeChannels(partId, channel) : [[partId, channel] as const]).map(([id, one]) => `${id}/${one.id}/final`),
    [chosen, partId, channel],
  );
  useWants(finals);
  const blocks = useSamples(useShallow((samples) => finals.map((name) => samples.blocks[name])));
  // Until the computed value has come, nothing is shown in its place.
  const seen = usePlayer(({ frame }) => valueAt(blocks[0], frame, first));
  const several = usePlayer(({ frame }) => blocks.some((block) => block && Math.abs((valueAt(block, frame, first) ?? 0) - (valueAt(blocks[0], frame, first) ?? 0)) > 1e-6));
  const own = usePlayer(({ frame }) => {
    if (tried) return tried.value;
    if (layer !== null) return rounded(valueAt(keyed, frame, first) ?? channel.value);
    const key = channel.curve?.keys.find((one) => one.frame === frame);
    if (!channel.curve) return channel.value;
    return key?.value ?? rounded(valueAt(keyed, frame, first) ?? 0);
  });
  return { seen, own, tried, several };
}

/** The step that sets the channel, whatever comes in. */
function rulerOf(writers: StepView[]): StepView | undefined {
  return writers.find(({ on, settings }) => on && settings.kind === "formula" && settings.mode === "set");
}

function hintOf({ channel, writers }: Props, triedAt: number | undefined, count: number): string {
  const ruler = rulerOf(writers);
  if (channel.locked) return "Locked against edits by hand.";
  if (ruler) return `Set by “${ruler.name}”. Change that in the ledger.`;
  return [
    triedAt === undefined ? "" : `Only tried on frame ${String(triedAt)}; D keeps it as a key.`,
    count > 1 ? `A value goes to all ${String(count)} chosen parts that have this channel.` : "",
    limited(channel),
  ].filter(Boolean).join(" ");
}

/** Which number is edited, where steps make another one of it. */
function editedWords({ channel, writers }: Props, own: number, seen: number | undefined): string {
  const steps = writers.filter(({ on }) => on);
  if (seen === undefined || !steps.length || channel.locked || rulerOf(writers) || Math.abs(seen - own) < 1e-4) return "";
  return `What is edited is its own value, ${shown(own, channel.unit)}; ${steps.map(({ name }) => `“${name}”`).join(", ")} make${steps.length > 1 ? "" : "s"} ${shown(seen, channel.unit)} of it.`;
}

function atLimit({ limits: [low, high] }: ChannelView, value: number): boolean {
  const near = (end: number | null) => end != null && Math.abs(value - end) < 1e-6;
  return near(low) || near(high);
}

/** What limits a channel, in words. */
function limited({ limits: [low, high], unit }: ChannelView): string {
  if (low == null && high == null) return "";
  return `Limited to ${low == null ? "…" : shown(low, unit)} … ${high == null ? "" : shown(high, unit)}`;
}

/** A float32 sample without the digits that it does not have. */
function rounded(value: number) {
  return Number(value.toPrecision(7));
}
