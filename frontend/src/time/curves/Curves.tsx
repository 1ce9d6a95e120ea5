import { memo } from "react";

import type { Curve } from "../../api/client";
import type { Block } from "../../state/samples";
import type { Tap } from "../../shared/taps";
import { tapColour } from "../../shared/tapColours";
import { tapDash } from "../../shared/taps";
import type { Scales } from "../../shared/scales";
import { margin, pathOf } from "../../shared/scales";

interface Props {
  lines: (readonly [Tap, Block | undefined])[];
  first: number;
  last: number;
  scales: Scales;
  /** The channel's own curve: beyond its keys the line is drawn lighter. */
  curve: Curve | null;
}

/** The taps of a channel over time. */
export const Curves = memo(function Curves({ lines, first, last, scales, curve }: Props) {
  const [low = 0, high = 0] = scales.x.range();
  const keys = curve?.keys;
  const start = keys?.length ? Math.max(scales.x(keys[0]?.frame ?? first), low) : low;
  const end = keys?.length ? Math.min(scales.x(keys.at(-1)?.frame ?? last), high) : high;
  const inside = Math.max(end - start, 0);
  const [bottom = 0] = scales.y.range();
  return (
    <g fill="none" pointerEvents="none">
      <clipPath id="between-keys"><rect x={start} y="0" width={inside} height={bottom + margin.bottom} /></clipPath>
      <clipPath id="in-plane"><rect x={low} y="0" width={Math.max(high - low, 0)} height={bottom + margin.bottom} /></clipPath>
      {lines.map(([tap, block]) => {
        if (!block) return null;
        const d = pathOf(block, first, last, scales);
        const stroke = tapColour[tap];
        const width = tap === "final" ? 2.2 : 1.5;
        const beyond = tap === "keyed" && curve !== null;
        return (
          <g key={tap} clipPath="url(#in-plane)">
            {beyond && <path d={d} stroke={stroke} strokeWidth={width} strokeDasharray={tapDash[tap]} opacity="0.4" />}
            <path
              data-tap={tap}
              data-key={block.key}
              d={d}
              stroke={stroke}
              strokeWidth={width}
              strokeDasharray={tapDash[tap]}
              {...(beyond ? { clipPath: "url(#between-keys)" } : {})}
            />
          </g>
        );
      })}
    </g>
  );
});
