import { memo } from "react";

import { useOpenScene } from "../../state/openScene";
import { tick } from "../../shared/format";
import type { Scales } from "../../shared/scales";
import { margin, ticksOf } from "../../shared/scales";
import { ink } from "../../shared/theme";

interface GridProps {
  scales: Scales;
  width: number;
  height: number;
  unit: string;
}

/** The lines of frames and values behind the curves. */
export const Grid = memo(function Grid({ scales: { x, y }, width, height, unit }: GridProps) {
  // What stands at the axis is said in the scene's units.
  useOpenScene((scene) => scene.header.units);
  if (width < 1) return null;
  return (
    <g fontFamily="IBM Plex Mono" fontSize="10.5" fill={ink.quiet} pointerEvents="none">
      {x.ticks(Math.max(width / 90, 2)).map((frame) => (
        <g key={frame}>
          <line x1={x(frame)} x2={x(frame)} y1={margin.top} y2={height - margin.bottom} stroke={ink.grid} />
          <text x={x(frame)} y={height - 7} textAnchor="middle">{tick(frame)}</text>
        </g>
      ))}
      {ticksOf(y, unit, Math.max(height / 45, 2)).map(({ value, text }) => (
        <g key={value}>
          <line x1={margin.left} x2={width - margin.right} y1={y(value)} y2={y(value)} stroke={ink.grid} />
          <text x={margin.left - 8} y={y(value) + 3.5} textAnchor="end">{text}</text>
        </g>
      ))}
    </g>
  );
});
