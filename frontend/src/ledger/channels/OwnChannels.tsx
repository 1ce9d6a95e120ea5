import { DeleteOutlined } from "@ant-design/icons";
import { Button, Input, Select, Space } from "antd";
import { memo, useState } from "react";

import type { ChannelView, OneEdit } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { usePart } from "../../state/openScene";
import { chooseChannel } from "../../state/selection";
import { Amount, Apply } from "../../shared/Amount";
import { isNumber, typed } from "../../shared/arithmetic";
import { Popup } from "../../shared/Popup";

type Kind = ChannelView["kind"];

interface Draft {
  name: string;
  kind: Kind;
  default: string;
  low: string;
  high: string;
  unit: string;
  options: string;
  shows: Shows;
}

type Shows = ChannelView["shows"];
const shows: Shows[] = ["nothing", "red", "green", "blue", "brightness", "opacity", "strip offset"];

const empty: Draft = { name: "", kind: "number", default: "0", low: "", high: "", unit: "", options: "", shows: "nothing" };

/** The form that gives a part a channel of its own. */
export const AddChannel = memo(function AddChannel({ partId }: { partId: string }) {
  return (
    <Popup label="New channel" placement="rightBottom" content={(close) => <ChannelForm start={empty} partId={partId} onDone={close} />}>
      <Button size="small" title="Give the part a channel of its own">Add…</Button>
    </Popup>
  );
});

/** Changes, locks and deletes the chosen channel, where that can be done. */
export function ChannelTools({ partId, channel }: { partId: string; channel: ChannelView }) {
  const edit = useEdit();
  const own = isOwn(channel);
  const others = usePart(partId)?.channels.filter(isOwn) ?? [];
  const place = others.findIndex(({ id }) => id === channel.id);
  const count = others.length;
  const move = (by: number) =>
    void edit({ do: "move channel", part: partId, channel: channel.id, position: place + by });
  const lock = { do: "lock channels" as const, part: partId, channels: [channel.id], locked: !channel.locked };
  return (
    <Space size={3}>
      <Button size="small" style={tight} title={`${channel.locked ? "Unlock" : "Lock"} ${channel.name}`} onClick={() => void edit(lock)}>{channel.locked ? "Unlock" : "Lock"}</Button>
      {own && (
        <>
          <Popup label="Channel" placement="right" content={(close) => <ChannelForm start={draftOf(channel)} partId={partId} channel={channel} onDone={close} />}>
            <Button size="small" style={tight}>Change…</Button>
          </Popup>
          <Button size="small" style={tight} title="Before the channel above it" aria-label={`Move ${channel.name} up`} disabled={place < 1} onClick={() => { move(-1); }}>↑</Button>
          <Button size="small" style={tight} title="Behind the channel below it" aria-label={`Move ${channel.name} down`} disabled={place >= count - 1} onClick={() => { move(1); }}>↓</Button>
          <Button size="small" style={tight} icon={<DeleteOutlined />} title="Delete the channel" aria-label={`Delete ${channel.name}`} onClick={() => void edit({ do: "remove channel", part: partId, channel: channel.id })} />
        </>
      )}
    </Space>
  );
}

const tight = { paddingInline: 6 } as const;

function isOwn({ id }: ChannelView): boolean {
  return /^c\d+$/.test(id);
}

function draftOf(channel: ChannelView): Draft {
  return {
    name: channel.name,
    kind: channel.kind,
    default: String(channel.default),
    low: channel.low == null ? "" : String(channel.low),
    high: channel.high == null ? "" : String(channel.high),
    unit: channel.unit,
    options: channel.options.join(", "),
    shows: channel.shows,
  };
}

interface FormProps {
  start: Draft;
  partId: string;
  /** The channel that is changed; without it a new one is added. */
  channel?: ChannelView;
  onDone: () => void;
}

function ChannelForm({ start, partId, channel, onDone }: FormProps) {
  const edit = useEdit();
  const [draft, setDraft] = useState(start);
  const send = async () => {
    if (!good || !draft.name.trim()) return;
    const made = editOf(draft, partId, channel?.id);
    if (await edit(made)) {
      onDone();
      if (channel) chooseChannel(partId, channel.id);
    }
  };
  const numeric = draft.kind === "number" ? (["default", "low", "high"] as const) : (["default"] as const);
  // Without a limit its field is empty; without a default it is 0.
  const isGood = (field: (typeof numeric)[number]) => !draft[field].trim() || isNumber(draft[field]);
  const good = numeric.every(isGood);
  const number = (field: (typeof numeric)[number], label: string, width: number) => (
    <Amount label={label} placeholder={label} width={width} value={draft[field]} good={isGood(field)} onChange={(text) => { setDraft({ ...draft, [field]: text }); }} onEnter={() => void send()} />
  );
  const text = (field: keyof Draft, label: string, width: number) => (
    <Input
      size="small"
      aria-label={label}
      placeholder={label}
      value={draft[field]}
      style={{ width }}
      onChange={(event) => {
        setDraft({ ...draft, [field]: event.target.value });
      }}
      onPressEnter={() => void send()}
    />
  );
  return (
    <Space orientation="vertical" size={6}>
      <Space size={6}>
        {text("name", "name", 150)}
        <Select<Kind>
          size="small"
          aria-label="kind"
          disabled={channel !== undefined}
          style={{ width: 88 }}
          value={draft.kind}
          options={(["number", "switch", "choice"] as const).map((value) => ({ value, label: value }))}
          onChange={(kind) => {
            setDraft({ ...draft, kind });
          }}
        />
      </Space>
      <Space size={6}>
        {number("default", "default", 64)}
        {draft.kind === "number" && (
          <>
            {number("low", "from", 56)}
            {number("high", "to", 56)}
            {text("unit", "unit", 50)}
          </>
        )}
        {draft.kind === "choice" && text("options", "options, with commas", 174)}
      </Space>
      <Space size={6}>
        on the shape
        <Select<Shows> size="small" aria-label="What it shows on the shape" style={{ width: 120 }} value={draft.shows} options={shows.map((value) => ({ value, label: value }))} onChange={(value) => { setDraft({ ...draft, shows: value }); }} />
      </Space>
      <Apply type="primary" good={good} disabled={!draft.name.trim()} onClick={() => void send()}>
        {channel ? "Change" : "Add"}
      </Apply>
    </Space>
  );
}

function editOf(draft: Draft, part: string, channel?: string): OneEdit {
  const settings = {
    part,
    name: draft.name.trim(),
    default: typed(draft.default, 0) ?? 0,
    low: typed(draft.low, 0) ?? null,
    high: typed(draft.high, 0) ?? null,
    unit: draft.unit.trim(),
    shows: draft.shows,
    options: draft.options.split(",").map((one) => one.trim()).filter(Boolean),
  };
  if (channel) return { do: "change channel", channel, ...settings };
  return { do: "add channel", kind: draft.kind, ...settings };
}
