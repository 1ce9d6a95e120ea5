import { Input, Select, Space } from "antd";
import { useState } from "react";

import type { ChannelView, OneEdit } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { chooseChannel } from "../../state/selection";
import { Amount, Apply } from "../../shared/Amount";
import { isNumber, typed } from "../../shared/arithmetic";

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

interface Props {
  partId: string;
  /** The channel that is changed; without it a new one is added. */
  channel?: ChannelView;
  onDone: () => void;
}

/** The settings of a part's own channel: of a new one, or of one that is changed. */
export function ChannelForm({ partId, channel, onDone }: Props) {
  const edit = useEdit();
  const [draft, setDraft] = useState(() => (channel ? draftOf(channel) : empty));
  const good = numbersOf(draft).every((field) => isGood(draft, field));
  const send = async () => {
    if (!good || !draft.name.trim()) return;
    if (await edit(editOf(draft, partId, channel?.id))) {
      onDone();
      if (channel) chooseChannel(partId, channel.id);
    }
  };
  const fields = { draft, onDraft: setDraft, onEnter: () => void send() };
  return (
    <Space orientation="vertical" size={6}>
      <Space size={6}>
        <TextOf field="name" label="name" width={150} {...fields} />
        <Select<Kind>
          size="small"
          aria-label="kind"
          disabled={channel !== undefined}
          style={{ width: 88 }}
          value={draft.kind}
          options={(["number", "switch", "choice"] as const).map((value) => ({ value, label: value }))}
          onChange={(kind) => { setDraft({ ...draft, kind }); }}
        />
      </Space>
      <Space size={6}>
        <NumberOf field="default" label="default" width={64} {...fields} />
        {draft.kind === "number" && (
          <>
            <NumberOf field="low" label="from" width={56} {...fields} />
            <NumberOf field="high" label="to" width={56} {...fields} />
            <TextOf field="unit" label="unit" width={50} {...fields} />
          </>
        )}
        {draft.kind === "choice" && <TextOf field="options" label="options, with commas" width={174} {...fields} />}
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

type NumberName = "default" | "low" | "high";

function numbersOf({ kind }: Draft): NumberName[] {
  return kind === "number" ? ["default", "low", "high"] : ["default"];
}

/** Without a limit its field is empty; without a default it is 0. */
function isGood(draft: Draft, field: NumberName): boolean {
  return !draft[field].trim() || isNumber(draft[field]);
}

interface FieldProps<Field> {
  field: Field;
  label: string;
  width: number;
  draft: Draft;
  onDraft: (draft: Draft) => void;
  onEnter: () => void;
}

function NumberOf({ field, label, width, draft, onDraft, onEnter }: FieldProps<NumberName>) {
  return <Amount label={label} placeholder={label} width={width} value={draft[field]} good={isGood(draft, field)} onChange={(text) => { onDraft({ ...draft, [field]: text }); }} onEnter={onEnter} />;
}

function TextOf({ field, label, width, draft, onDraft, onEnter }: FieldProps<"name" | "unit" | "options">) {
  return (
    <Input
      size="small"
      aria-label={label}
      placeholder={label}
      value={draft[field]}
      style={{ width }}
      onChange={(event) => { onDraft({ ...draft, [field]: event.target.value }); }}
      onPressEnter={onEnter}
    />
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
