import { DeleteOutlined } from "@ant-design/icons";
import { Button, Space } from "antd";
import { memo } from "react";

import type { DrivenView, OneEdit, SheetView, StepView } from "../api/client";
import { useEdit } from "../state/useEdit";
import { unitIn, useOpenScene } from "../state/openScene";
import { chosenDraft, holdForStop, poseStop, usePosing } from "../state/posing";
import { feed, useSamples, useWants, valueAt } from "../state/samples";
import { usePlayer } from "../state/player";
import { chooseChannel } from "../state/selection";
import { brief, inField } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { ink } from "../shared/theme";
import { degreeSign, lookOf, meant, saidUnit } from "../shared/units";
import { Popup } from "../shared/Popup";
import { pastedCells } from "./paste";
import { RowShape } from "./RowShape";

interface Props {
  set: DrivenView;
  sheet: SheetView | undefined;
  at: number;
  chosen: string | null;
  onChoose: (row: string) => void;
}

type DrivenRow = DrivenView["rows"][number];
type Mapped = Extract<StepView["settings"], { kind?: "driven keys" }>;

const line = `1px solid ${ink.line}`;
const cell = { borderBottom: line, padding: "5px 8px", textAlign: "center" } as const;

/** The stops sheet: a row for each driven channel, a column for each stop. */
export function StopsTable(props: Props) {
  const { set } = props;
  const edit = useEdit();
  if (!set.rows.length) {
    return <p style={{ color: ink.quiet, margin: 0 }}>No rows yet. Add the channels that it is to drive, below.</p>;
  }
  const paste = (event: React.ClipboardEvent) => {
    const target = (event.target as HTMLElement).closest<HTMLElement>("[data-row]");
    const pasted = pastedCells(event.clipboardData.getData("text"), set, target?.dataset["row"], Number(target?.dataset["stop"]));
    if (pasted.length < 2) return;
    const { parts } = useOpenScene.getState();
    const look = (row: string) => {
      const one = set.rows.find((other) => other.row === row);
      return lookOf(one ? unitIn(parts, one.part, one.channel) : "");
    };
    const cells = pasted.map((cell) => ({ ...cell, value: meant(cell.value, look(cell.row)) }));
    event.preventDefault();
    // Left before its number changes under it, so that it does not bring the old one back.
    if (event.target instanceof HTMLElement) event.target.blur();
    void edit({ do: "put cells", cells });
  };
  return (
    <div className="scroll" style={{ background: ink.field, border: line, borderRadius: 6 }}>
      <table data-fields aria-label={`Stops of ${set.name}`} style={{ borderCollapse: "collapse", width: "100%" }} onPaste={paste}>
        <thead>
          <tr style={{ background: ink.panel }}>
            <th style={{ ...cell, textAlign: "left", fontSize: 11.5 }}>driven channel</th>
            {set.stops.map((stop) => <StopHead key={stop} set={set} stop={stop} />)}
            <th style={{ ...cell, fontSize: 11.5 }}>shape between stops</th>
            <th style={{ ...cell, fontSize: 11.5 }}>now</th>
          </tr>
        </thead>
        <tbody>
          {set.rows.map((row) => <Row key={row.row} {...props} row={row} />)}
        </tbody>
      </table>
    </div>
  );
}

const StopHead = memo(function StopHead({ set, stop }: { set: DrivenView; stop: number }) {
  const edit = useEdit();
  const posed = usePosing((posing) => posing.stop === stop);
  const waiting = usePosing(({ drafts }) => drafts[`${set.id}@${String(stop)}`] !== undefined);
  const done = (made: OneEdit, close: () => void) => void edit(made).then((stored) => { if (stored) close(); });
  const menu = (close: () => void) => (
    <div style={{ display: "grid", gap: 6 }}>
      <Space>
        move to
        <NumberField label="Move the stop to" value={stop} text={String(stop)} step={0.1} onCommit={(next) => { done({ do: "put stop", driven: set.id, stop: next, old: stop }, close); }} />
      </Space>
      <Space>
        scale cells by
        <NumberField label="Scale the stop by" value={1} text="1" step={0.01} onCommit={(factor) => { done({ do: "scale stop", driven: set.id, stop, factor }, close); }} />
      </Space>
      <Button size="small" onClick={() => { done({ do: "remove stop", driven: set.id, stop }, close); }}>Delete the stop</Button>
    </div>
  );
  return (
    <th style={{ ...cell, whiteSpace: "nowrap" }}>
      <button
        type="button"
        className="mono"
        aria-pressed={posed}
        title="Pick this stop: the driver stands there, and what you change is held for it"
        onClick={() => { poseStop(stop); }}
        style={{ all: "unset", cursor: "pointer", fontSize: 12, fontWeight: posed ? 600 : 400, color: posed ? ink.doubtful : ink.ink }}
      >
        at {stop}{waiting ? " ✎" : ""}
      </button>
      <Popup title={`Stop ${String(stop)}`} content={menu}>
        <Button type="text" size="small" aria-label={`Change the stop ${String(stop)}`} title="Move, scale or delete the stop" style={{ padding: "0 3px", height: 18 }}>⋯</Button>
      </Popup>
    </th>
  );
});

/** A row: what is in it, drawn where that changes, and its shape with the driver's place, which moves. */
function Row({ sheet, at, chosen, onChoose, row }: Props & { row: DrivenRow }) {
  const step = useOpenScene(({ parts }) => parts[row.part]?.steps.find(({ id }) => id === row.row));
  const data = sheet?.rows.find((one) => one.row === row.row);
  if (step?.settings.kind !== "driven keys") return null;
  const { settings, on } = step;
  return (
    <tr style={{ background: chosen === row.row ? ink.chosen : undefined, opacity: on ? 1 : 0.55 }}>
      <Cells row={row} settings={settings} onChoose={onChoose} />
      <td style={{ ...cell, borderLeft: line, padding: 0, minWidth: 190 }}>
        <RowShape inputs={sheet?.inputs ?? []} values={data?.values ?? []} mapping={settings.mapping} at={at} now={data?.now ?? null} />
      </td>
      <td style={{ ...cell, minWidth: 84 }}>
        <Now row={row} />
      </td>
    </tr>
  );
}

/** The name of a row and its values at the stops. */
const Cells = memo(function Cells({ row, settings, onChoose }: { row: DrivenRow; settings: Mapped; onChoose: Props["onChoose"] }) {
  const edit = useEdit();
  const name = useOpenScene(({ parts }) => parts[row.part]?.name ?? "");
  const channel = useOpenScene(({ parts }) => parts[row.part]?.channels.find(({ id }) => id === row.channel));
  const posed = usePosing((posing) => posing.stop);
  if (!channel) return null;
  const { mapping, mode } = settings;
  return (
    <>
      <td style={{ ...cell, textAlign: "left", whiteSpace: "nowrap" }}>
        <button type="button" title={`${name}.${channel.name}: show its shape below, and its ledger on the Bench`} onClick={() => { onChoose(row.row); chooseChannel(row.part, row.channel); }} style={{ all: "unset", cursor: "pointer" }}>
          <strong style={{ display: "inline-block", maxWidth: 190, overflow: "hidden", textOverflow: "ellipsis", verticalAlign: "bottom" }}>{name}</strong> <span className="mono" style={{ color: ink.quiet, fontSize: 12 }}>{channel.name}</span>
          {mode !== "add" && <span style={{ color: ink.quiet, fontSize: 12 }}> · {mode === "set" ? "sets" : "scales"}</span>}
        </button>
        <Button type="text" size="small" aria-label={`Delete the row ${name}.${channel.name}`} title="Delete the row" icon={<DeleteOutlined style={{ fontSize: 11 }} />} onClick={() => void edit({ do: "remove rows", rows: [row.row] })} />
      </td>
      {mapping.keys.map((key) => (
        <td key={key.frame} data-row={row.row} data-stop={key.frame} style={{ ...cell, background: key.frame === posed ? ink.drivenNow : ink.driven, borderLeft: line, minWidth: 74 }}>
          <NumberField
            label={`${name}.${channel.name} at ${String(key.frame)}`}
            value={key.value}
            text={`${brief(key.value, channel.unit, 6)}${degreeSign(channel.unit)}`}
            unit={channel.unit}
            width={70}
            onTry={(value) => { feed.tryOut([{ do: "put cells", cells: [{ row: row.row, stop: key.frame, value }] }]); }}
            onCommit={(value) => void edit({ do: "put cells", cells: [{ row: row.row, stop: key.frame, value }] })}
          />
        </td>
      ))}
    </>
  );
});

/** The channel right after Driven at the playhead; while a stop is posed, the field that poses it. */
function Now({ row }: { row: DrivenRow }) {
  const label = useOpenScene(({ parts }) => `${parts[row.part]?.name ?? ""}.${parts[row.part]?.channels.find(({ id }) => id === row.channel)?.name ?? ""}`);
  const unit = useOpenScene(({ parts }) => unitIn(parts, row.part, row.channel));
  const name = `${row.part}/${row.channel}/driven`;
  useWants([name]);
  const block = useSamples((samples) => samples.blocks[name]);
  const first = useSamples((samples) => samples.first);
  const value = usePlayer(({ frame }) => valueAt(block, frame, first));
  const posing = usePosing((now) => now.stop !== null);
  const held = usePosing((now) => chosenDraft(now)[`${row.part}/${row.channel}`]);
  const text = value === undefined ? "…" : inField(value, unit);
  if (!posing) return <span className="mono" aria-label={`${label} now`} style={{ color: ink.nowText }}>{text} {saidUnit(unit)}</span>;
  const own = held ?? Number((value ?? 0).toPrecision(7));
  return (
    <NumberField
      label={`${label}, posed`}
      value={own}
      text={text}
      unit={unit}
      width={78}
      stamp={held ?? "nothing held"}
      tried={held !== undefined}
      hint={held === undefined ? "Change it to pose this stop; it is held until you capture" : "Held for this stop; capture saves it"}
      onTry={(next) => { holdForStop(row.part, row.channel, next); }}
      onCommit={(next) => { holdForStop(row.part, row.channel, next); }}
    />
  );
}
