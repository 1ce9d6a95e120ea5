import { useState } from "react";

import type { DrivenView } from "../api/client";
import { tick } from "../shared/format";
import type { Scales } from "../shared/scales";
import { margin, scalesOf, ticksOf } from "../shared/scales";
import { tapColour } from "../shared/tapColours";
import { ink } from "../shared/theme";
import { useSize } from "../shared/useSize";
import { useOpenScene } from "../state/openScene";
import { Handles } from "../time/curves/Handles";
import { MappingTools } from "./MappingTools";
import { useRowDrag } from "./useRowDrag";
import { useSheet } from "./useSheet";

const height = 190;

interface Props {
  set: DrivenView;
  row: string;
  part: string;
  at: number;
}

/** The curve of a row over its driver, with the interpolations and handles of ordinary curves. */
export function Mapping({ set, row, part, at }: Props) {
  const owner = useOpenScene((scene) => scene.parts[part]);
  const step = owner?.steps.find(({ id }) => id === row);
  const settings = step?.settings.kind === "driven keys" ? step.settings : undefined;
  const sheet = useSheet(set.id, at);
  const { ref, width } = useSize<HTMLDivElement>();
  const [chosen, setChosen] = useState<number | null>(null);
  const values = sheet?.rows.find((one) => one.row === row)?.values ?? [];
  const inputs = sheet?.inputs ?? [];
  const keys = settings?.mapping.keys ?? [];
  const found = [...values.filter((one) => one !== null), ...keys.map(({ value }) => value)];
  const reach = Math.max(...found) - Math.min(...found) || 1;
  const fitting: [number, number] = [Math.min(...found) - 0.12 * reach, Math.max(...found) + 0.12 * reach];
  // It stands still under a drag, so that the stop stays under the hand.
  const [still, setStill] = useState<[number, number] | null>(null);
  const scales = scalesOf({ x: [inputs[0] ?? set.low, inputs.at(-1) ?? set.high], y: still ?? fitting }, width, height);
  const { drag, ...hands } = useRowDrag(row, scales, setChosen, (busy) => { setStill(busy ? fitting : null); });
  if (!owner || !settings) return null;
  const unit = owner.channels.find(({ id }) => id === settings.channel)?.unit ?? "";
  const points = inputs.flatMap((input, n) => (values[n] == null ? [] : [`${String(scales.x(input))},${String(scales.y(values[n]))}`]));
  return (
    <section aria-label="Shape of the row" style={{ background: ink.field, border: `1px solid ${ink.line}`, borderRadius: 8 }}>
      <MappingTools owner={owner} row={row} settings={settings} chosen={chosen} />
      <div ref={ref}>
        <svg width={width} height={height} role="img" aria-label="Row over the driver" style={{ display: "block", touchAction: "none", userSelect: "none" }} onPointerDown={() => { setChosen(null); }}>
          {width > 1 && <MappingAxes scales={scales} width={width} unit={unit} />}
          <polyline data-testid="mapping" points={points.join(" ")} fill="none" stroke={tapColour.driven} strokeWidth="1.8" />
          <line x1={scales.x(at)} x2={scales.x(at)} y1={margin.top} y2={height - margin.bottom} stroke={ink.ink} />
          {keys.map((key) => (
            <g key={key.frame}>
              {key.frame === chosen && <Handles curve={settings.mapping} keyOf={key} scales={scales} held={drag?.key.frame === key.frame ? drag : null} dragged={hands} />}
              <circle
                role="button"
                aria-label={`stop ${String(key.frame)}, value ${String(key.value)}`}
                cx={scales.x(key.frame)}
                cy={scales.y(drag?.what === "key" && drag.key.frame === key.frame ? drag.value : key.value)}
                r={key.frame === chosen ? 5.5 : 4.5}
                fill={key.frame === chosen ? ink.ink : ink.field}
                stroke={tapColour.driven}
                strokeWidth="1.6"
                style={{ cursor: "ns-resize" }}
                onPointerDown={(event) => { hands.begin("key", key, event); }}
                onPointerMove={hands.move}
                onPointerUp={hands.end}
                onPointerCancel={hands.giveUp}
              />
            </g>
          ))}
        </svg>
      </div>
    </section>
  );
}

/** Lines and numbers of driver values and of what the row makes of them. */
function MappingAxes({ scales, width, unit }: { scales: Scales; width: number; unit: string }) {
  return (
    <>
      {scales.x.ticks(8).map((value) => (
        <g key={value} fontFamily="IBM Plex Mono" fontSize="10.5" fill={ink.quiet}>
          <line x1={scales.x(value)} x2={scales.x(value)} y1={margin.top} y2={height - margin.bottom} stroke={ink.grid} />
          <text x={scales.x(value)} y={height - 7} textAnchor="middle">{tick(value)}</text>
        </g>
      ))}
      {ticksOf(scales.y, unit, 4).map(({ value, text }) => (
        <g key={value} fontFamily="IBM Plex Mono" fontSize="10.5" fill={ink.quiet}>
          <line x1={margin.left} x2={width - margin.right} y1={scales.y(value)} y2={scales.y(value)} stroke={ink.grid} />
          <text x={margin.left - 8} y={scales.y(value) + 3.5} textAnchor="end">{text}</text>
        </g>
      ))}
    </>
  );
}
