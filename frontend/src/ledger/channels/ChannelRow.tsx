import { memo, useMemo } from "react";

import type { ChannelView, StepView } from "../../api/client";
import { chooseChannel, useSelection } from "../../state/selection";
import { tapInk } from "../../shared/tapColours";
import { ink } from "../../shared/theme";
import { saidUnit } from "../../shared/units";
import { ChannelKeys } from "./ChannelKeys";
import { ValueField } from "./ValueField";

export interface RowProps {
  partId: string;
  partName: string;
  channel: ChannelView;
  /** The steps that write the channel. */
  writers: StepView[];
}

/** A channel: its name, its value at the playhead, what writes it, the keys near the playhead. */
export const ChannelRow = memo(function ChannelRow(props: RowProps) {
  const { partId, partName, channel, writers } = props;
  const chosen = useSelection(({ channel: id }) => id === channel.id);
  const axis = axisOf(channel);
  const channels = useMemo(() => [channel], [channel]);
  const choose = () => { chooseChannel(partId, channel.id); };
  return (
    <div
      role="group"
      onClick={choose}
      style={{ ...row, height: 25, background: chosen ? ink.chosen : undefined, cursor: "pointer" }}
    >
      <button
        type="button"
        className="bare"
        aria-pressed={chosen}
        aria-label={`${partName}.${channel.name}`}
        title={`Show the ledger and curve of ${partName}.${channel.name}`}
        onClick={choose}
        style={{ ...name, textAlign: axis ? "right" : "left" }}
      >
        {axis ? <strong style={{ color: ink.axis[axis], paddingRight: 4 }}>{axis}</strong> : `${channel.name.replace(/\.weight$/, "")} ${saidUnit(channel.unit)}`}
      </button>
      <ValueField {...props} />
      <Wired writers={writers} />
      <ChannelKeys part={partId} label={channel.name} channels={channels} />
    </div>
  );
}, sameRow);

/** The head of translation, rotation or scale, with the keys of all three channels together. */
export function GroupRow({ partId, group, channels }: { partId: string; group: string; channels: ChannelView[] }) {
  const unit = saidUnit(channels[0]?.unit ?? "");
  return (
    <div role="presentation" style={{ ...row, height: 22 }}>
      <span style={{ ...name, color: ink.quiet }}>{group}{unit && ` in ${unit}`}</span>
      <ChannelKeys part={partId} label={`all ${group}`} channels={channels} />
    </div>
  );
}

const row = { display: "flex", alignItems: "center", gap: 4, padding: "0 6px 0 12px" } as const;
const name = { flex: 1, minWidth: 0, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" } as const;

/** Translation, rotation or scale, if a channel belongs to one. */
export function groupOf({ id }: ChannelView): string | undefined {
  return /^(translation|rotation|scale)\.[xyz]$/.exec(id)?.[1];
}

function axisOf(channel: ChannelView): "x" | "y" | "z" | undefined {
  return groupOf(channel) === undefined ? undefined : (channel.id.at(-1) as "x" | "y" | "z");
}

function sameRow(a: RowProps, b: RowProps) {
  const same = a.partId === b.partId && a.partName === b.partName && a.channel === b.channel;
  return same && a.writers.length === b.writers.length && a.writers.every((w, n) => w === b.writers[n]);
}

function Wired({ writers }: { writers: StepView[] }) {
  const style = { width: 10, flex: "none", color: tapInk.driven, fontStyle: "italic" } as const;
  if (!writers.length) return <span style={style} />;
  return <span title={`written by ${writers.map((step) => step.name).join(", ")}`} style={style}>ƒ</span>;
}
