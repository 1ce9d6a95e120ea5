import { Button, Space } from "antd";
import { memo, useState } from "react";

import type { ChannelView, PartView } from "../../api/client";
import { useChosenChannel, useChosenPart } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { Chapter } from "../../shared/Chapter";
import { Hint } from "../../shared/Hint";
import { ink } from "../../shared/theme";
import { PartSettings } from "../../parts/PartSettings";
import { ChannelRow, groupOf, GroupRow } from "./ChannelRow";
import { AddChannel, ChannelTools } from "./OwnChannels";
import { PoseMenu } from "./PoseMenu";
import { writersOf } from "./writers";

/** The channels of the chosen part: names, values at the playhead, keys near it. */
export function Channels() {
  const part = useChosenPart();
  const channel = useChosenChannel();
  const [open, setOpen] = useState(false);
  if (!part) {
    return (
      <div style={{ padding: 12 }}>
        <Chapter name="Channels" of="Parts" />
        <p style={{ color: ink.quiet }}>Choose a part, above or in the view, to see its channels.</p>
      </div>
    );
  }
  return (
    <>
      <Head name={part.name} order={part.rotation_order} open={open} onOpen={setOpen} />
      <div className="scroll" style={{ flex: 1 }} role="group" aria-label="Channels" data-fields>
        {open && <PartSettings part={part} />}
        <Rows part={part} channels={part.channels.filter((one) => !weighs(one))} />
        {part.channels.some(weighs) && <div className="caps" style={{ padding: "8px 12px 2px" }}>Weights</div>}
        <Rows part={part} channels={part.channels.filter(weighs)} />
      </div>
      <Space size={4} style={{ padding: "5px 12px", borderTop: `1px solid ${ink.line}` }}>
        <AddChannel partId={part.id} />
        {channel && <ChannelTools partId={part.id} channel={channel} />}
      </Space>
    </>
  );
}

/** Whose channels they are, and what belongs to the part as a whole. */
const Head = memo(function Head({ name, order, open, onOpen }: { name: string; order: string; open: boolean; onOpen: (open: boolean) => void }) {
  const count = useSelection(({ parts }) => parts.length);
  const [first, then, last] = order;
  return (
    <div style={{ padding: "10px 12px 6px" }}>
      <div style={{ display: "flex", gap: 6, alignItems: "baseline" }}>
        <span className="caps" title={name} style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
          {name}
        </span>
        <Button
          type="text"
          size="small"
          aria-expanded={open}
          title="Role, side, rotation order, rest and shape of the part"
          style={{ height: 18, fontSize: 11.5, paddingInline: 4 }}
          onClick={() => { onOpen(!open); }}
        >
          {open ? "less" : "part…"}
        </Button>
        <PoseMenu />
        <Hint title={`Rotations are applied first about ${first ?? ""}, then ${then ?? ""}, then ${last ?? ""}`}>
          <span style={{ color: ink.quiet, fontSize: 11, whiteSpace: "nowrap" }}>{order.split("").join(" ")}</span>
        </Hint>
      </div>
      {count > 1 && <div role="status" style={{ fontSize: 11.5, color: ink.quiet }}>{count} parts chosen: a value goes to all of them</div>}
    </div>
  );
});

/** The rows of some channels, each group under its head. */
function Rows({ part, channels }: { part: PartView; channels: ChannelView[] }) {
  return channels.map((channel, n) => {
    const group = groupOf(channel);
    const begins = group !== undefined && (n === 0 || groupOf(channels[n - 1] ?? channel) !== group);
    return (
      <div key={channel.id} role="presentation">
        {begins && <GroupRow partId={part.id} group={group} channels={channels.filter((one) => groupOf(one) === group)} />}
        <ChannelRow
          partId={part.id}
          partName={part.name}
          channel={channel}
          writers={writersOf(part, channel)}
        />
      </div>
    );
  });
}

/** Whether a channel weighs a step, a layer, or a target of a constraint. */
function weighs({ id }: ChannelView): boolean {
  return id.endsWith(".weight") || id.includes(".weight.");
}
