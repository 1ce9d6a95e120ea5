import { Button, Select, Space, Switch, Tooltip } from "antd";
import { memo, useState } from "react";

import type { ChannelView, StepView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { useChosenChannel, useChosenPart } from "../../state/openScene";
import { keyedCurve, useKeyState } from "../../state/keying";
import { usePlayer } from "../../state/player";
import { feed, useBlock, useSamples, valueAt } from "../../state/samples";
import { chooseChannel, useSelection } from "../../state/selection";
import { Dot } from "../../shared/Dot";
import { shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { tapInk } from "../../shared/taps";
import { ink } from "../../shared/theme";
import { PartSettings } from "../../parts/PartSettings";
import { dotEdit, giveValue, valueEdit } from "./edits";
import { GroupDot } from "./GroupDot";
import { AddChannel, ChannelTools } from "./OwnChannels";
import { PoseMenu } from "./PoseMenu";

/** The channels of the chosen part: names, values at the playhead, dots. */
export function Channels() {
  const part = useChosenPart();
  const channel = useChosenChannel();
  const [open, setOpen] = useState(false);
  if (!part) {
    return (
      <div style={{ padding: 12 }}>
        <div className="caps">Channels</div>
        <p style={{ color: ink.quiet }}>Choose a part, above or in the view, to see its channels.</p>
      </div>
    );
  }
  const weights = part.channels.filter(weighs);
  const others = part.channels.filter((channel) => !weighs(channel));
  const row = (channel: ChannelView) => (
    <ChannelRow
      key={channel.id}
      partId={part.id}
      partName={part.name}
      channel={channel}
      writers={part.steps.filter((step) => step.writes.includes(channel.id))}
      group={groupOf(part.channels, channel)}
    />
  );
  return (
    <>
      <div style={{ display: "flex", padding: "10px 12px 6px", gap: 8, alignItems: "baseline" }}>
        <span
          className="caps"
          title={part.name}
          style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}
        >
          {part.name}
        </span>
        <Button
          type="text"
          size="small"
          aria-expanded={open}
          title="Role, side, rotation order, rest and shape of the part"
          style={{ height: 18, fontSize: 11.5 }}
          onClick={() => {
            setOpen(!open);
          }}
        >
          {open ? "less" : "part…"}
        </Button>
        <PoseMenu />
        <Tooltip title={`Rotations are applied first about ${part.rotation_order.charAt(0)}, then ${part.rotation_order.charAt(1)}, then ${part.rotation_order.charAt(2)}`}>
          <span style={{ color: ink.quiet, fontSize: 11, whiteSpace: "nowrap" }}>
            {part.rotation_order.split("").join(" ")}
          </span>
        </Tooltip>
      </div>
      <div className="scroll" style={{ flex: 1 }} role="list" aria-label="Channels">
        {open && <PartSettings part={part} />}
        {others.map(row)}
        {weights.length > 0 && (
          <div className="caps" style={{ padding: "8px 12px 2px" }}>Weights</div>
        )}
        {weights.map(row)}
      </div>
      <Space size={4} style={{ padding: "5px 12px", borderTop: `1px solid ${ink.line}` }}>
        <AddChannel partId={part.id} />
        {channel && <ChannelTools partId={part.id} channel={channel} />}
      </Space>
    </>
  );
}

/** On the first channel of a group, all channels of the group. */
function groupOf(channels: ChannelView[], channel: ChannelView): ChannelView[] | undefined {
  const [, group, axis] = axisOf.exec(channel.id) ?? [];
  if (axis !== "x") return undefined;
  return channels.filter(({ id }) => id.startsWith(`${group ?? ""}.`) && axisOf.test(id));
}

const axisOf = /^(translation|rotation|scale)\.([xyz])$/;

interface RowProps {
  partId: string;
  partName: string;
  channel: ChannelView;
  /** The steps that write the channel. */
  writers: StepView[];
  group: ChannelView[] | undefined;
}

function sameRow(a: RowProps, b: RowProps) {
  const same =
    a.partId === b.partId &&
    a.partName === b.partName &&
    a.channel === b.channel &&
    a.group?.length === b.group?.length &&
    (a.group ?? []).every((one, n) => one === b.group?.[n]);
  return same && a.writers.length === b.writers.length && a.writers.every((w, n) => w === b.writers[n]);
}

const ChannelRow = memo(function ChannelRow(props: RowProps) {
  const { partId, partName, channel, writers } = props;
  const chosen = useSelection(({ channel: id }) => id === channel.id);
  const [, group, axis] = axisOf.exec(channel.name) ?? [];
  const choose = () => {
    chooseChannel(partId, channel.id);
  };
  return (
    <div
      role="listitem"
      onClick={choose}
      style={{
        display: "flex",
        alignItems: "center",
        gap: 4,
        height: 27,
        padding: "0 6px 0 12px",
        background: chosen ? ink.chosen : undefined,
        cursor: "pointer",
      }}
    >
      <button
        type="button"
        aria-pressed={chosen}
        title={`Show the ledger and curve of ${partName}.${channel.name}`}
        onClick={choose}
        style={{ all: "unset", flex: 1, minWidth: 0, display: "flex", cursor: "pointer" }}
      >
        <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
          {group ? (axis === "x" ? group : "") : channel.name.replace(/\.weight$/, "")}
        </span>
        {axis && (
          <strong style={{ width: 14, color: ink.axis[axis as "x" | "y" | "z"] }}>{axis}</strong>
        )}
      </button>
      {props.group && <GroupDot part={partId} group={group ?? ""} channels={props.group} />}
      <ValueField {...props} />
      <Wired writers={writers} />
      <ChannelDot partId={partId} channel={channel} />
    </div>
  );
}, sameRow);

function Wired({ writers }: { writers: StepView[] }) {
  if (!writers.length) return <span style={{ width: 12 }} />;
  return (
    <span
      title={`written by ${writers.map((step) => step.name).join(", ")}`}
      style={{ width: 12, color: tapInk.driven, fontStyle: "italic" }}
    >
      ƒ
    </span>
  );
}

function ChannelDot({ partId, channel }: { partId: string; channel: ChannelView }) {
  const edit = useEdit();
  const layer = useKeyState((keying) => keying.layer);
  const curve = keyedCurve(channel, layer);
  const here = usePlayer(({ frame }) => curve?.keys.some((k) => k.frame === frame) ?? false);
  const state = channel.locked ? "locked" : here ? "key" : curve ? "curve" : "none";
  return (
    <Dot
      state={state}
      label={channel.name}
      onClick={() => void edit(dotEdit(partId, channel, usePlayer.getState().frame))}
    />
  );
}

/** Shows the final value at the playhead; edits what a person sets or keys. */
function ValueField({ partId, partName, channel, writers }: RowProps) {
  const edit = useEdit();
  const path = `${partId}/${channel.id}`;
  const final = useBlock(`${path}/final`);
  const layer = useKeyState((keying) => keying.layer);
  const onLayer = layer !== null && channel.on_layers[layer];
  const stage = onLayer ? `step ${layer}.${partId}.${channel.id}` : layer === null ? "own" : "keyed";
  const keyed = useBlock(channel.curve || layer !== null ? `${path}/${stage}` : null);
  const tried = useKeyState(({ tryOuts }) => tryOuts.find((one) => one.part === partId && one.channel === channel.id));
  const first = useSamples((samples) => samples.first);
  // Until the computed value has come, nothing is shown in its place.
  const seen = usePlayer(({ frame }) => valueAt(final, frame, first));
  const own = usePlayer(({ frame }) => {
    if (tried) return tried.value;
    if (layer !== null) return rounded(valueAt(keyed, frame, first) ?? channel.value);
    const key = channel.curve?.keys.find((one) => one.frame === frame);
    if (!channel.curve) return channel.value;
    return key?.value ?? rounded(valueAt(keyed, frame, first) ?? 0);
  });
  const edited = (value: number) => valueEdit(partId, channel, usePlayer.getState().frame, value);
  const commit = (value: number) => {
    giveValue(edit, partId, channel, usePlayer.getState().frame, value);
  };
  if (channel.kind === "switch") {
    return (
      <Switch
        size="small"
        aria-label={channel.name}
        checked={(seen ?? own) !== 0}
        disabled={channel.locked}
        onChange={(on) => {
          commit(on ? 1 : 0);
        }}
      />
    );
  }
  if (channel.kind === "choice") {
    return (
      <Select
        size="small"
        aria-label={channel.name}
        style={{ width: 96 }}
        value={Math.round(seen ?? own)}
        disabled={channel.locked}
        options={channel.options.map((label, value) => ({ label, value }))}
        onChange={commit}
      />
    );
  }
  const ruler = writers.find(
    ({ on, settings }) => on && settings.kind === "formula" && settings.mode === "set",
  );
  const hint = channel.locked
    ? "Locked against edits by hand."
    : ruler
      ? `Set by “${ruler.name}”. Change that in the ledger.`
      : (tried ? `Only tried on frame ${String(tried.frame)}; D keeps it as a key. ` : "") +
        limited(channel);
  return (
    <NumberField
      label={`${partName}.${channel.name}`}
      value={own}
      text={seen === undefined ? "…" : shown(seen, channel.unit === "°" ? "°" : "")}
      step={channel.unit === "°" ? 1 : 0.01}
      width={84}
      fixed={channel.locked || ruler !== undefined}
      limited={seen !== undefined && atLimit(channel, seen)}
      tried={tried !== undefined}
      {...(hint ? { hint } : {})}
      onTry={(value) => {
        feed.tryOut([edited(value)]);
      }}
      onCommit={commit}
    />
  );
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

/** Whether a channel weighs a step, a layer, or a target of a constraint. */
function weighs({ id }: ChannelView): boolean {
  return id.endsWith(".weight") || id.includes(".weight.");
}
