import type { Curve } from "../api/client";
import { tapColour } from "../shared/tapColours";
import { ink } from "../shared/theme";

interface Props {
  inputs: number[];
  values: (number | null)[];
  mapping: Curve;
  at: number;
  now: number | null;
}

const [width, height, edge] = [180, 44, 8];

/** A row over its driver, small: the line, its stops, and where the driver is now. */
export function RowShape({ inputs, values, mapping, at, now }: Props) {
  const numbers = [...values.filter((one) => one !== null), ...mapping.keys.map(({ value }) => value)];
  if (inputs.length < 2 || !numbers.length) return <svg width={width} height={height} />;
  const [low = 0, high = 1] = [inputs[0], inputs.at(-1)];
  const [bottom, top] = [Math.min(...numbers), Math.max(...numbers)];
  const x = (value: number) => edge + ((value - low) / (high - low)) * (width - 2 * edge);
  const y = (value: number) => (top === bottom ? height / 2 : height - edge - ((value - bottom) / (top - bottom)) * (height - 2 * edge));
  const points = inputs.flatMap((input, n) => {
    const value = values[n];
    return value == null ? [] : [`${x(input).toFixed(1)},${y(value).toFixed(1)}`];
  });
  const here = x(Math.min(Math.max(at, low), high));
  /** Where the line is at a stop, also while another value is tried there. */
  const stopped = (key: Curve["keys"][number]) => values[nearest(inputs, key.frame)] ?? key.value;
  return (
    <svg width={width} height={height} style={{ display: "block", margin: "0 auto" }} aria-hidden>
      <polyline points={points.join(" ")} fill="none" stroke={tapColour.driven} strokeWidth="1.5" />
      {mapping.keys.map((key) => (
        <circle key={key.frame} cx={x(key.frame)} cy={y(stopped(key))} r="3" fill={ink.field} stroke={tapColour.driven} strokeWidth="1.3" />
      ))}
      <line x1={here} x2={here} y1="4" y2={height - 4} stroke={ink.ink} strokeWidth="1" />
      {now !== null && <circle cx={here} cy={y(now)} r="3.5" fill={ink.now} />}
    </svg>
  );
}

function nearest(inputs: number[], at: number): number {
  const far = inputs.map((input) => Math.abs(input - at));
  return far.indexOf(Math.min(...far));
}
