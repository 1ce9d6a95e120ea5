import { Button, Select, Segmented, Space } from "antd";
import { useState } from "react";

import type { DrivenView, Interpolation, Key, OneEdit } from "../api/client";
import { Handles, tangentTo } from "../bench/curves/Handles";
import type { Drag } from "../bench/curves/Keys";
import { margin, scalesOf } from "../bench/curves/scales";
import { useEdit } from "../shell/useEdit";
import { useOpenScene } from "../state/openScene";
import { feed } from "../state/samples";
import { useSelection } from "../state/selection";
import { tick } from "../shared/format";
import { tapColour } from "../shared/taps";
import { useSize } from "../shared/useSize";
import { ink } from "../theme";
import { useSheet } from "./useSheet";

const kinds: Interpolation[] = ["hold", "linear", "smooth"];
const eases: Interpolation[] = ["ease in", "ease out", "ease both", "overshoot", "bounce", "spring"];

interface Props {
  set: DrivenView;
  row: string;
  part: string;
  at: number;
}

/** The curve of a row over its driver, with the interpolations and handles of ordinary curves. */
export function Mapping({ set, row, part, at }: Props) {
  const edit = useEdit();
  const owner = useOpenScene((scene) => scene.parts[part]);
  const step = owner?.steps.find(({ id }) => id === row);
  const sheet = useSheet(set.id, at);
  const { ref, width } = useSize<HTMLDivElement>();
  const selected = useSelection((selection) => selection.parts);
  const others = selected.filter((id) => id !== part);
  const [chosen, setChosen] = useState<number | null>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  if (!owner || step?.settings.kind !== "driven keys") return null;
  const { mapping, mode, channel } = step.settings;
  const unit = owner.channels.find(({ id }) => id === channel)?.unit ?? "";
  const values = sheet?.rows.find((one) => one.row === row)?.values ?? [];
  const inputs = sheet?.inputs ?? [];
  const found = [...values.filter((one) => one !== null), ...mapping.keys.map(({ value }) => value)];
  const reach = Math.max(...found) - Math.min(...found) || 1;
  const height = 190;
  const y: [number, number] = [Math.min(...found) - 0.12 * reach, Math.max(...found) + 0.12 * reach];
  const scales = scalesOf({ x: [inputs[0] ?? set.low, inputs.at(-1) ?? set.high], y }, width, height);
  const shape = (what: object): OneEdit => ({ do: "shape rows", rows: [row], stops: chosen === null ? null : [chosen], ...what });
  const editOf = (now: Drag): OneEdit => {
    if (now.what === "key") return { do: "put cells", cells: [{ row, stop: now.key.frame, value: now.value }] };
    const bent = now.what === "left" ? { left: tangentTo(now) } : { right: tangentTo(now) };
    const kept = now.key.mode === "broken" ? ("broken" as const) : ("joined" as const);
    return { do: "shape rows", rows: [row], changes: [{ frame: now.key.frame, mode: kept, ...bent }] };
  };
  const begin = (what: Drag["what"], key: Key, event: React.PointerEvent) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    setChosen(key.frame);
    setDrag({ what, key, frame: key.frame, value: key.value, moved: false });
  };
  const move = (event: React.PointerEvent<SVGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!drag || !box) return;
    const value = Number(scales.y.invert(event.clientY - box.top).toPrecision(4));
    const frame = drag.what === "key" ? drag.frame : scales.x.invert(event.clientX - box.left);
    const moved = { ...drag, frame, value, moved: true };
    setDrag(moved);
    feed.tryOut([editOf(moved)]);
  };
  const end = () => {
    if (drag?.moved) void edit(editOf(drag));
    setDrag(null);
  };
  const points = inputs.flatMap((input, n) => (values[n] == null ? [] : [`${String(scales.x(input))},${String(scales.y(values[n]))}`]));
  const kind = mapping.keys.find(({ frame }) => frame === chosen)?.interpolation;
  return (
    <section aria-label="Shape of the row" style={{ background: "#fff", border: `1px solid ${ink.line}`, borderRadius: 8 }}>
      <Space wrap size={6} style={{ padding: "7px 12px" }}>
        <strong>{owner.name}</strong>
        <span className="mono" style={{ color: ink.quiet }}>{owner.channels.find(({ id }) => id === channel)?.name}</span>
        <span style={{ color: ink.quiet }}>{chosen === null ? "all" : `right of ${String(chosen)}`}</span>
        <Segmented size="small" aria-label="Interpolation between stops" options={kinds} value={kind ?? ("" as Interpolation)} onChange={(interpolation) => void edit(shape({ interpolation }))} />
        <Select size="small" aria-label="Ease between stops" placeholder="ease…" popupMatchSelectWidth={false} style={{ width: 80 }} value={eases.find((one) => one === kind) ?? null} options={eases.map((value) => ({ value, label: value }))} onChange={(interpolation: string | null) => void edit(shape({ interpolation }))} />
        <Select size="small" aria-label="Tangents at the stops" placeholder="tangents…" style={{ width: 92 }} value={null} options={["smart", "flat", "linear", "join", "break"].map((value) => ({ value, label: value }))} onChange={(tangents: string | null) => void edit(shape({ tangents }))} />
        {(["before", "after"] as const).map((side) => (
          <span key={side} style={{ color: ink.quiet }}>
            {side}{" "}
            <Select size="small" aria-label={`${side} the stops`} style={{ width: 92 }} value={mapping[side] ?? "hold"} options={["hold", "straight on"].map((value) => ({ value, label: value }))} onChange={(value) => void edit({ do: "shape rows", rows: [row], [side]: value })} />
          </span>
        ))}
        <Button size="small" disabled={!others.length} title="This row onto the chosen parts, for the channel of the same name" onClick={() => void edit({ do: "copy rows", rows: [row], parts: others })}>copy row</Button>
        <Select size="small" aria-label="How the row writes" title="It sets, adds to or scales what is already driven" style={{ width: 66 }} value={mode ?? "add"} options={["add", "set", "scale"].map((value) => ({ value, label: value }))} onChange={(value) => void edit({ do: "shape rows", rows: [row], mode: value as "add" })} />
      </Space>
      <div ref={ref}>
        <svg width={width} height={height} role="img" aria-label="Row over the driver" style={{ display: "block", touchAction: "none", userSelect: "none" }} onPointerDown={() => { setChosen(null); }}>
          {width > 1 && scales.x.ticks(8).map((value) => (
            <g key={value} fontFamily="IBM Plex Mono" fontSize="10.5" fill={ink.quiet}>
              <line x1={scales.x(value)} x2={scales.x(value)} y1={margin.top} y2={height - margin.bottom} stroke="#E9E4D9" />
              <text x={scales.x(value)} y={height - 7} textAnchor="middle">{tick(value)}</text>
            </g>
          ))}
          {width > 1 && scales.y.ticks(4).map((value) => (
            <g key={value} fontFamily="IBM Plex Mono" fontSize="10.5" fill={ink.quiet}>
              <line x1={margin.left} x2={width - margin.right} y1={scales.y(value)} y2={scales.y(value)} stroke="#E9E4D9" />
              <text x={margin.left - 8} y={scales.y(value) + 3.5} textAnchor="end">{tick(value)}{unit === "°" ? "°" : ""}</text>
            </g>
          ))}
          <polyline data-testid="mapping" points={points.join(" ")} fill="none" stroke={tapColour.driven} strokeWidth="1.8" />
          <line x1={scales.x(at)} x2={scales.x(at)} y1={margin.top} y2={height - margin.bottom} stroke={ink.ink} />
          {mapping.keys.map((key) => (
            <g key={key.frame}>
              {key.frame === chosen && <Handles curve={mapping} keyOf={key} scales={scales} drag={drag?.key.frame === key.frame ? drag : null} begin={begin} move={move} end={end} />}
              <circle
                role="button"
                aria-label={`stop ${String(key.frame)}, value ${String(key.value)}`}
                cx={scales.x(key.frame)}
                cy={scales.y(drag?.what === "key" && drag.key.frame === key.frame ? drag.value : key.value)}
                r={key.frame === chosen ? 5.5 : 4.5}
                fill={key.frame === chosen ? ink.ink : "#fff"}
                stroke={tapColour.driven}
                strokeWidth="1.6"
                style={{ cursor: "ns-resize" }}
                onPointerDown={(event) => { begin("key", key, event); }}
                onPointerMove={move}
                onPointerUp={end}
              />
            </g>
          ))}
        </svg>
      </div>
    </section>
  );
}
