import { useMemo } from "react";

import { usePlayer } from "../state/player";
import type { Block } from "../state/samples";
import { useBlock, useSamples, valueAt } from "../state/samples";
import { rangeOf } from "../shared/scales";
import { ink } from "../shared/theme";

const width = 84;
const height = 24;

/** A small curve of a value over the whole range, with the playhead's dot. */
export function Sparkline({ node, colour }: { node: string | null; colour: string }) {
  const block = useBlock(node);
  const drawn = useMemo(() => (block ? drawing(block) : null), [block]);
  if (!block || !drawn) return <svg width={width} height={height} />;
  return (
    <svg width={width} height={height} aria-hidden>
      <polyline points={drawn.points} fill="none" stroke={colour} strokeWidth="1.5" />
      <Now block={block} y={drawn.y} />
    </svg>
  );
}

function Now({ block, y }: { block: Block; y: (value: number) => number }) {
  const first = useSamples((samples) => samples.first);
  const last = useSamples((samples) => samples.last);
  const frame = usePlayer((player) => player.frame);
  const value = valueAt(block, frame, first) ?? 0;
  return <circle cx={xOf(frame - first, last - first + 1)} cy={y(value)} r="2.5" fill={ink.now} />;
}

function xOf(place: number, count: number) {
  return 3 + (place / Math.max(count - 1, 1)) * (width - 6);
}

/** The line of a block, and where a value stands. */
function drawing(block: Block) {
  const [low, high] = rangeOf(block.data);
  const y = (value: number) =>
    high > low ? height - 4 - ((value - low) / (high - low)) * (height - 8) : height / 2;
  const values = [...block.data];
  const line = block.frames === 1 ? [values[0] ?? 0, values[0] ?? 0] : values;
  const points = line.map((v, n) => `${xOf(n, line.length).toFixed(1)},${y(v).toFixed(1)}`);
  return { y, points: points.join(" ") };
}
