import { memo, useMemo } from "react";
import { useShallow } from "zustand/react/shallow";

import type { CurveRef } from "../../state/curveSet";
import { useCurveSet } from "../../state/curveSet";
import { useSamples, useWants } from "../../state/samples";
import { chooseChannel } from "../../state/selection";
import type { Scales } from "../../shared/scales";
import { margin, pathOf, rangeOf, scalesOf } from "../../shared/scales";
import { ink } from "../../shared/theme";
import { spread } from "./spread";

interface Props {
  curves: CurveRef[];
  first: number;
  last: number;
  scales: Scales;
  width: number;
  height: number;
}

/** Curves beside the chosen one: thin, with names at their ends; a click chooses. What does not move is
 * left out. */
export const ThinCurves = memo(function ThinCurves({ curves, first, last, scales, width, height }: Props) {
  const hidden = useCurveSet((set) => set.hidden);
  const own = useCurveSet((set) => set.scale === "own scales");
  const shown = curves.filter(({ key }) => !hidden.includes(key));
  const wants = useMemo(() => shown.map(({ key }) => `${key}/final`), [shown]);
  useWants(wants);
  const blocks = useSamples(useShallow((samples) => wants.map((name) => samples.blocks[name])));
  const moving = shown.flatMap((curve, n) => {
    const block = blocks[n];
    const range = block && rangeOf(block.data);
    return block && range && range[1] - range[0] > 1e-9 ? [{ curve, block, range }] : [];
  });
  const [left = 0, right = width] = scales.x.range();
  const lines = moving.map(({ curve, block, range }) => {
    const room = (range[1] - range[0]) * 0.08;
    const on = own ? { ...scales, y: scalesOf({ x: [0, 1], y: [range[0] - room, range[1] + room] }, width, height).y } : scales;
    const end = block.data[Math.min(Math.max(Math.round(scales.x.invert(right)) - first, 0), block.frames - 1)] ?? 0;
    return { curve, d: pathOf(block, first, last, on), end: on.y(end) };
  });
  const places = spread(lines.map(({ end }) => Math.min(Math.max(end, margin.top + 4), height - margin.bottom)), 12, height - margin.bottom);
  return (
    <g>
      <clipPath id="thin-plane"><rect x={left} y="0" width={Math.max(right - left, 0)} height={height} /></clipPath>
      {lines.map(({ curve, d }, n) => {
        const colour = colourOf(curve.channel);
        return (
          <g key={curve.key} data-thin={curve.name} style={{ cursor: "pointer" }} onPointerDown={(event) => { event.stopPropagation(); if (event.button === 0) chooseChannel(curve.part, curve.channel); }}>
            <title>{`${curve.name}: click to choose it`}</title>
            <g clipPath="url(#thin-plane)" fill="none">
              <path d={d} stroke={colour} strokeOpacity="0.65" strokeWidth="1" />
              <path d={d} stroke="transparent" strokeWidth="7" />
            </g>
            <text x={right - 3} y={(places[n] ?? 0) - 3} textAnchor="end" fontSize="10.5" fill={colour} stroke={ink.panel} strokeWidth="3" paintOrder="stroke">
              {curve.name}
            </text>
          </g>
        );
      })}
    </g>
  );
});

function colourOf(channel: string): string {
  const axis = /\.([xyz])$/.exec(channel)?.[1] as "x" | "y" | "z" | undefined;
  return axis ? ink.axis[axis] : ink.quiet;
}
