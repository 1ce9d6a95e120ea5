import { memo } from "react";

import { chooseChannel, chooseKeys, framesOf, useSelection } from "../../state/selection";
import type { Scales } from "../../shared/scales";
import { margin } from "../../shared/scales";
import { ink } from "../../shared/theme";
import { spread } from "./spread";
import type { Thin } from "./useThin";

interface Props {
  lines: Thin[];
  scales: Scales;
  height: number;
}

/** Curves beside the chosen one: thin, with names at their ends and small marks for their keys; a click chooses,
 * on a mark its key too. */
export const ThinCurves = memo(function ThinCurves({ lines, scales, height }: Props) {
  const [left = 0, right = 0] = scales.x.range();
  const keys = useSelection((selection) => selection.keys);
  const lowest = height - margin.bottom;
  const apart = Math.min(lowest / Math.max(lines.length, 1), 12);
  const places = spread(lines.map(({ end }) => Math.min(Math.max(end, margin.top + 4), lowest)), apart, lowest);
  return (
    <g>
      <clipPath id="thin-plane"><rect x={left} y="0" width={Math.max(right - left, 0)} height={height} /></clipPath>
      {lines.map((line, n) => {
        const { curve, id, path, marks } = line;
        const colour = colourOf(curve.channel);
        const chosen = new Set(framesOf(keys, curve.part, id));
        return (
          <g key={curve.key} data-thin={curve.name} style={{ cursor: "pointer" }} onPointerDown={(event) => { choose(lines, line, event); }}>
            <title>{`${curve.name}: click to choose it`}</title>
            <g clipPath="url(#thin-plane)" fill="none">
              <path d={path} stroke={colour} strokeOpacity="0.65" strokeWidth="1" />
              <path d={path} stroke="transparent" strokeWidth="7" />
            </g>
            <path data-marks={marks.length} d={dots(marks.filter(({ frame }) => !chosen.has(frame)))} fill={ink.panel} stroke={colour} />
            <path data-chosen={chosen.size} d={dots(marks.filter(({ frame }) => chosen.has(frame)))} fill={ink.ink} stroke={ink.ink} />
            {apart >= closest && (
              <text x={right - 3} y={(places[n] ?? 0) - 3} textAnchor="end" fontSize="10.5" fill={colour} stroke={ink.panel} strokeWidth="3" paintOrder="stroke">
                {curve.name}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
});

/** How near names stand to each other at most, pixels: with more of them none is written. */
const closest = 8;
/** How near to a key the pointer takes it, pixels. */
const reach = 6;

/** Chooses the key under the pointer, of whichever line; where there is none, the line that was hit. */
function choose(lines: Thin[], hit: Thin, event: React.PointerEvent<SVGGElement>) {
  event.stopPropagation();
  if (event.button !== 0) return;
  const plane = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
  const [x, y] = [event.clientX - (plane?.left ?? 0), event.clientY - (plane?.top ?? 0)];
  const [key] = [hit, ...lines].flatMap((line) => line.marks.filter((mark) => Math.hypot(mark.x - x, mark.y - y) <= reach).map(({ frame }) => ({ line, frame })));
  const { curve, id } = key?.line ?? hit;
  chooseChannel(curve.part, curve.channel);
  if (key) chooseKeys([{ part: curve.part, channel: id, frames: [key.frame] }]);
}

/** Small circles as one path: thousands of elements would be slow. */
function dots(marks: Thin["marks"]): string {
  return marks.map(({ x, y }) => `M${(x - 2.5).toFixed(1)},${y.toFixed(1)}a2.5,2.5 0 1,0 5,0a2.5,2.5 0 1,0 -5,0`).join("");
}

function colourOf(channel: string): string {
  const axis = /\.([xyz])$/.exec(channel)?.[1] as "x" | "y" | "z" | undefined;
  return axis ? ink.axis[axis] : ink.quiet;
}
