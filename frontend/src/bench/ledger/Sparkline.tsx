import { usePlayer } from "../../state/player";
import type { Block } from "../../state/samples";
import { useBlock, useSamples, valueAt } from "../../state/samples";
import { ink } from "../../theme";

const width = 84;
const height = 24;

/** A small curve of a value over the whole range, with the playhead's dot. */
export function Sparkline({ node, colour }: { node: string | null; colour: string }) {
  const block = useBlock(node);
  const first = useSamples((samples) => samples.first);
  const last = useSamples((samples) => samples.last);
  const frame = usePlayer((player) => player.frame);
  if (!block) return <svg width={width} height={height} />;
  const [low, high] = ends(block);
  const y = (value: number) =>
    high > low ? height - 4 - ((value - low) / (high - low)) * (height - 8) : height / 2;
  const x = (place: number, count: number) => 3 + (place / Math.max(count - 1, 1)) * (width - 6);
  const values = [...block.data];
  const points = block.frames === 1 ? [values[0] ?? 0, values[0] ?? 0] : values;
  const line = points.map((v, n) => `${x(n, points.length).toFixed(1)},${y(v).toFixed(1)}`);
  return (
    <svg width={width} height={height} aria-hidden>
      <polyline points={line.join(" ")} fill="none" stroke={colour} strokeWidth="1.5" />
      <circle
        cx={x(frame - first, last - first + 1)}
        cy={y(valueAt(block, frame, first) ?? 0)}
        r="2.5"
        fill={ink.now}
      />
    </svg>
  );
}

function ends(block: Block): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const value of block.data) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return [low, high];
}
