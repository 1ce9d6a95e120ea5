import { Select, Switch, Tooltip } from "antd";
import { memo } from "react";

import type { ChannelView, PartView } from "../api/client";
import { useChosenPart, useEdit } from "../shell/sceneContext";
import { usePlayer } from "../state/player";
import { feed, useBlock, useSamples, valueAt } from "../state/samples";
import { chooseChannel, useSelection } from "../state/selection";
import { Dot } from "../shared/Dot";
import { shown } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { tapInk } from "../shared/taps";
import { ink } from "../theme";
import { dotEdit, valueEdit } from "./edits";

/** The channels of the chosen part: names, values at the playhead, dots. */
export function Channels() {
  const part = useChosenPart();
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
  return (
    <>
      <div style={{ display: "flex", padding: "10px 12px 6px", gap: 8, alignItems: "baseline" }}>
        <span className="caps" style={{ flex: 1 }}>{part.name}</span>
        <Tooltip title={`Rotations are applied first about ${part.rotation_order.charAt(0)}, then ${part.rotation_order.charAt(1)}, then ${part.rotation_order.charAt(2)}`}>
          <span style={{ color: ink.quiet, fontSize: 11 }}>
            rotation order {part.rotation_order.split("").join(" ")}
          </span>
        </Tooltip>
      </div>
      <div className="scroll" style={{ flex: 1 }} role="list" aria-label="Channels">
        {others.map((channel) => (
          <ChannelRow key={channel.id} part={part} channel={channel} />
        ))}
        {weights.length > 0 && (
          <div className="caps" style={{ padding: "8px 12px 2px" }}>Weights of steps</div>
        )}
        {weights.map((channel) => (
          <ChannelRow key={channel.id} part={part} channel={channel} />
        ))}
      </div>
    </>
  );
}

const axisOf = /^(translation|rotation|scale)\.([xyz])$/;

const ChannelRow = memo(function ChannelRow(props: { part: PartView; channel: ChannelView }) {
  const { part, channel } = props;
  const chosen = useSelection(({ channel: id }) => id === channel.id);
  const [, group, axis] = axisOf.exec(channel.name) ?? [];
  const choose = () => {
    chooseChannel(part.id, channel.id);
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
        title={`Show the ledger and curve of ${part.name}.${channel.name}`}
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
      <ValueField part={part} channel={channel} />
      <Wired part={part} channel={channel} />
      <ChannelDot part={part} channel={channel} />
    </div>
  );
});

function Wired({ part, channel }: { part: PartView; channel: ChannelView }) {
  const writers = part.steps.filter((step) => step.settings.channel === channel.id);
  if (!writers.length) return <span style={{ width: 12 }} />;
  return (
    <Tooltip title={`written by ${writers.map((step) => step.name).join(", ")}`}>
      <span style={{ width: 12, color: tapInk.driven, fontStyle: "italic" }}>ƒ</span>
    </Tooltip>
  );
}

function ChannelDot({ part, channel }: { part: PartView; channel: ChannelView }) {
  const edit = useEdit();
  const here = usePlayer(({ frame }) => channel.curve?.keys.some((k) => k.frame === frame) ?? false);
  const state = channel.locked ? "locked" : here ? "key" : channel.curve ? "curve" : "none";
  return (
    <Dot
      state={state}
      label={channel.name}
      onClick={() => void edit(dotEdit(part, channel, usePlayer.getState().frame))}
    />
  );
}

/** Shows the final value at the playhead; edits what a person sets or keys. */
function ValueField({ part, channel }: { part: PartView; channel: ChannelView }) {
  const edit = useEdit();
  const path = `${part.id}/${channel.id}`;
  const final = useBlock(`${path}/final`);
  const keyed = useBlock(`${path}/keyed`);
  const first = useSamples((samples) => samples.first);
  const frame = usePlayer((player) => player.frame);
  const key = channel.curve?.keys.find((one) => one.frame === frame);
  const own = channel.curve
    ? (key?.value ?? rounded(valueAt(keyed, frame, first) ?? 0))
    : channel.value;
  // Until the computed value has come, nothing is shown in its place.
  const seen = valueAt(final, frame, first);
  const commit = (value: number) => void edit(valueEdit(part, channel, frame, value));
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
  const ruler = part.steps.find(
    ({ on, settings }) =>
      on && settings.channel === channel.id && settings.kind === "formula" && settings.mode === "set",
  );
  const hint = channel.locked
    ? "Locked against edits by hand."
    : ruler
      ? `Set by “${ruler.name}”. Change that in the ledger.`
      : undefined;
  return (
    <NumberField
      label={`${part.name}.${channel.name}`}
      value={own}
      text={seen === undefined ? "…" : shown(seen, channel.unit === "°" ? "°" : "")}
      step={channel.unit === "°" ? 1 : 0.01}
      fixed={channel.locked || ruler !== undefined}
      {...(hint ? { hint } : {})}
      onTry={(value) => {
        feed.tryOut([valueEdit(part, channel, frame, value)]);
      }}
      onCommit={commit}
    />
  );
}

/** A float32 sample without the digits that it does not have. */
function rounded(value: number) {
  return Number(value.toPrecision(7));
}
