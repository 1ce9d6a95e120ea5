import { scaleLinear } from "d3-scale";

import type { FindingDetails, TriedView } from "../state/checks";
import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { tapColour, tapInk } from "../shared/tapColours";
import { tick } from "../shared/format";
import { rangeOf } from "../shared/scales";
import { useSize } from "../shared/useSize";
import { ink } from "../shared/theme";

const height = 150;
// The frames stand under those of the strips.
const [left, right, top, bottom] = [141, 7, 14, 20];

/** The amount of the chosen finding over frames, now and with the remedy that is looked at. */
export function AmountCurve({ details, tried }: { details: FindingDetails; tried: TriedView | undefined }) {
  const { ref, width } = useSize<HTMLDivElement>();
  const frame = usePlayer((player) => player.frame);
  const name = useOpenScene((scene) => scene.parts[details.finding.part]?.name ?? "");
  const { amounts, level, first, finding } = details;
  if (!amounts) return null;
  const after = tried ? (tried.amounts ?? (tried.left === null ? amounts.map(() => 0) : null)) : null;
  const most = rangeOf([...amounts, ...(after ?? []), level ?? 0, 1e-9])[1];
  const x = scaleLinear([first, first + Math.max(amounts.length - 1, 1)], [left, Math.max(width - right, left + 10)]);
  const y = scaleLinear([0, most * 1.08], [height - bottom, top]);
  const path = (values: number[]) => values.map((value, n) => `${n ? "L" : "M"}${x(first + n).toFixed(1)},${y(value).toFixed(1)}`).join("");
  return (
    <section aria-label="Amount over frames" style={{ padding: "8px 14px 12px", borderTop: `1px solid ${ink.line}` }}>
      <strong style={{ fontSize: 12.5 }}>{name}: {finding.check}{finding.unit ? `, ${finding.unit}` : ""}</strong>
      <div ref={ref} style={{ background: ink.field, border: `1px solid ${ink.line}`, borderRadius: 6, marginTop: 6 }}>
        {width > 0 && (
          <svg width={width} height={height} role="img" aria-label={`The amount over frames${after ? ", now and with the remedy" : ""}`} style={{ display: "block" }}>
            {y.ticks(3).map((value) => (
              <g key={value}>
                <line x1={left} x2={width - right} y1={y(value)} y2={y(value)} stroke={ink.line} strokeWidth={0.6} />
                <text x={left - 6} y={y(value) + 3.5} textAnchor="end" fontSize={10.5} fill={ink.quiet} className="mono">{tick(value)}</text>
              </g>
            ))}
            {level !== null && level > 0 && <line x1={left} x2={width - right} y1={y(level)} y2={y(level)} stroke={ink.quiet} strokeDasharray="4 4" />}
            <path d={path(amounts)} fill="none" stroke={after ? tapColour.keyed : ink.ink} strokeWidth={1.6} strokeDasharray={after ? "4 3" : undefined} data-amounts="now" />
            {after && <path d={path(after)} fill="none" stroke={tapColour.bound} strokeWidth={1.8} data-amounts="after" />}
            <line x1={x(frame)} x2={x(frame)} y1={top - 6} y2={height - bottom} stroke={ink.now} strokeWidth={1.5} />
            {x.ticks(6).filter(Number.isInteger).map((value) => <text key={value} x={x(value)} y={height - 6} textAnchor="middle" fontSize={10.5} fill={ink.quiet} className="mono">{value}</text>)}
            {after && <text x={width - right - 6} y={top + 10} textAnchor="end" fontSize={11} fill={tapInk.bound}>with the remedy</text>}
          </svg>
        )}
      </div>
    </section>
  );
}
