import { Button, Select, Space, Switch, Tooltip } from "antd";
import { memo, useState } from "react";

import type { ChannelView, StepView } from "../../api/client";
import { useEdit } from "../../shell/useEdit";
import { useChosenChannel, useChosenPart } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { feed, useBlock, useSamples, valueAt } from "../../state/samples";
import { chooseChannel, useSelection } from "../../state/selection";
import { Dot } from "../../shared/Dot";
import { shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { tapInk } from "../../shared/taps";
import { ink } from "../../theme";
import { PartSettings } from "../parts/PartSettings";
import { dotEdit, valueEdit } from "./edits";
import { AddChannel, ChannelTools } from "./OwnChannels";

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
  const weights = part.channels.filter((channel) => channel.id.endsWith(".weight"));
  const others = part.channels.filter((channel) => !channel.id.endsWith(".weight"));
  const row = (channel: ChannelView) => (
    <ChannelRow
      key={channel.id}
      partId={part.id}
      partName={part.name}
      channel={channel}
      writers={part.steps.filter((step) => step.settings.channel === channel.id)}
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
        <Tooltip title={`Rotations are applied first about ${part.rotation_order.charAt(0)}, then ${part.rotation_order.charAt(1)}, then ${part.rotation_order.charAt(2)}`}>
          <span style={{ color: ink.quiet, fontSize: 11, whiteSpace: "nowrap" }}>
            rotation order {part.rotation_order.split("").join(" ")}
          </span>
        </Tooltip>
      </div>
      <div className="scroll" style={{ flex: 1 }} role="list" aria-label="Channels">
        {open && <PartSettings part={part} />}
        {others.map(row)}
        {weights.length > 0 && (
          <div className="caps" style={{ padding: "8px 12px 2px" }}>Weights of steps</div>
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

const axisOf = /^(translation|rotation|scale)\.([xyz])$/;

interface RowProps {
  partId: string;
  partName: string;
  channel: ChannelView;
  /** The steps that write the channel. */
  writers: StepView[];
}

function sameRow(a: RowProps, b: RowProps) {
  const same = a.partId === b.partId && a.partName === b.partName && a.channel === b.channel;
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
        gap: 6,
        height: 27,
        padding: "0 8px 0 12px",
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
  const here = usePlayer(({ frame }) => channel.curve?.keys.some((k) => k.frame === frame) ?? false);
  const state = channel.locked ? "locked" : here ? "key" : channel.curve ? "curve" : "none";
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
  const keyed = useBlock(`${path}/keyed`);
  const first = useSamples((samples) => samples.first);
  // Until the computed value has come, nothing is shown in its place.
  const seen = usePlayer(({ frame }) => valueAt(final, frame, first));
  const own = usePlayer(({ frame }) => {
    const key = channel.curve?.keys.find((one) => one.frame === frame);
    if (!channel.curve) return channel.value;
    return key?.value ?? rounded(valueAt(keyed, frame, first) ?? 0);
  });
  const edited = (value: number) => valueEdit(partId, channel, usePlayer.getState().frame, value);
  const commit = (value: number) => void edit(edited(value));
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
      : undefined;
  return (
    <NumberField
      label={`${partName}.${channel.name}`}
      value={own}
      text={seen === undefined ? "…" : shown(seen, channel.unit === "°" ? "°" : "")}
      step={channel.unit === "°" ? 1 : 0.01}
      fixed={channel.locked || ruler !== undefined}
      {...(hint ? { hint } : {})}
      onTry={(value) => {
        feed.tryOut([edited(value)]);
      }}
      onCommit={commit}
    />
  );
}

/** A float32 sample without the digits that it does not have. */
function rounded(value: number) {
  return Number(value.toPrecision(7));
}
