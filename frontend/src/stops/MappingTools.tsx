import { Button, Select, Segmented, Space } from "antd";

import type { Interpolation, OneEdit, PartView, StepView } from "../api/client";
import { ink } from "../shared/theme";
import { useSelection } from "../state/selection";
import { useEdit } from "../state/useEdit";

const kinds: Interpolation[] = ["hold", "linear", "smooth"];
const eases: Interpolation[] = ["ease in", "ease out", "ease both", "overshoot", "bounce", "spring"];

interface Props {
  owner: PartView;
  row: string;
  settings: Extract<StepView["settings"], { kind?: "driven keys" }>;
  /** The stop that is chosen; null: all. */
  chosen: number | null;
}

/** What is done to a row, or to the segment right of its chosen stop. */
export function MappingTools({ owner, row, settings, chosen }: Props) {
  const edit = useEdit();
  const selected = useSelection((selection) => selection.parts);
  const others = selected.filter((id) => id !== owner.id);
  const { mapping, mode, channel } = settings;
  const kind = mapping.keys.find(({ frame }) => frame === chosen)?.interpolation;
  const shape = (what: object): OneEdit => ({ do: "shape rows", rows: [row], stops: chosen === null ? null : [chosen], ...what });
  return (
    <Space wrap size={6} style={{ padding: "7px 12px" }}>
      <strong>{owner.name}</strong>
      <span className="mono" style={{ color: ink.quiet }}>{owner.channels.find(({ id }) => id === channel)?.name}</span>
      <span style={{ color: ink.quiet }}>{chosen === null ? "all" : `right of ${String(chosen)}`}</span>
      <Segmented size="small" aria-label="Interpolation between stops" options={kinds} value={kind ?? ("" as Interpolation)} onChange={(interpolation) => void edit(shape({ interpolation }))} />
      <Select size="small" aria-label="Ease between stops" placeholder="ease…" popupMatchSelectWidth={false} style={{ width: 88 }} value={eases.find((one) => one === kind) ?? null} options={eases.map((value) => ({ value, label: value }))} onChange={(interpolation: string | null) => void edit(shape({ interpolation }))} />
      <Select size="small" aria-label="Tangents at the stops" placeholder="tangents…" style={{ width: 108 }} value={null} options={["smart", "flat", "linear", "join", "break"].map((value) => ({ value, label: value }))} onChange={(tangents: string | null) => void edit(shape({ tangents }))} />
      {(["before", "after"] as const).map((side) => (
        <span key={side} style={{ color: ink.quiet }}>
          {side}{" "}
          <Select size="small" aria-label={`${side} the stops`} style={{ width: 92 }} value={mapping[side] ?? "hold"} options={["hold", "straight on"].map((value) => ({ value, label: value }))} onChange={(value) => void edit({ do: "shape rows", rows: [row], [side]: value })} />
        </span>
      ))}
      <Button size="small" disabled={!others.length} title="This row onto the chosen parts, for the channel of the same name" onClick={() => void edit({ do: "copy rows", rows: [row], parts: others })}>copy row</Button>
      <Select size="small" aria-label="How the row writes" title="It sets, adds to or scales what is already driven" style={{ width: 66 }} value={mode ?? "add"} options={["add", "set", "scale"].map((value) => ({ value, label: value }))} onChange={(value) => void edit({ do: "shape rows", rows: [row], mode: value as "add" })} />
    </Space>
  );
}
