import type { MouseEvent } from "react";

import type { NearKey } from "./near";
import { nearWords, placeOn } from "./near";
import { ink } from "./theme";

interface Props {
  label: string;
  near: NearKey[];
  now: number;
  /** Whether there is a curve at all: without one there is just a quiet +. */
  curved: boolean;
  locked?: boolean;
  small?: boolean;
  /** Keys or unkeys this frame. Without it the ruler is only looked at. */
  onHere?: () => void;
  onGo?: (frame: number) => void;
  /** The base's keys while keys go to a layer: faint. */
  base?: NearKey[];
  /** Goes to a key of the base. */
  onBase?: (frame: number) => void;
}

/** The small ruler beside a channel: now in the middle, the keys near it as ticks at their distance; a
 * key on this frame is the tall tick in the middle, with a foot. */
export function NearKeys({ label, near, now, curved, locked, small, onHere, onGo, base = [], onBase }: Props) {
  const [width, height] = small ? [30, 11] : [44, 14];
  const words = nearWords(near, now);
  if (!onHere) {
    return curved ? <span title={words} style={{ display: "inline-flex", width }}><Ruler near={near} now={now} width={width} height={height} /></span> : <span style={{ width }} />;
  }
  const onClick = (event: MouseEvent) => {
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    // Enter comes as a click without a place.
    const at = (keys: NearKey[]) => (event.detail ? tickNear(keys, now, x, width) : undefined);
    const [own, below] = [at(near), at(base)];
    if (own) onGo?.(own.frame);
    else if (below) onBase?.(below.frame);
    else onHere();
  };
  const does = locked ? "locked against edits by hand" : near.some(({ frame }) => frame === now) ? "click in the middle to delete it" : "click in the middle to key it";
  return (
    <button
      type="button"
      className={curved ? "near-keys" : "near-keys quiet"}
      aria-label={`${label}: ${locked ? "locked against edits by hand" : curved ? words : "no keys"}`}
      title={`${curved ? `${words} — ` : ""}${does}${near.length ? ", on a tick to go there" : ""}${base.length ? "; faint: keys of the base, a click goes to them" : ""}`}
      disabled={locked}
      onClick={onClick}
      style={{ width, height: height + 4, cursor: locked ? "default" : "pointer" }}
    >
      {curved || base.length ? <Ruler near={near} below={base} now={now} width={width} height={height} /> : locked ? <span style={{ fontSize: 10.5, color: ink.quiet }}>locked</span> : "+"}
    </button>
  );
}

interface RulerProps {
  near: NearKey[];
  /** Faint. */
  below?: NearKey[];
  now: number;
  width: number;
  height: number;
}

function Ruler({ near, below = [], now, width, height }: RulerProps) {
  const base = height - 3.5;
  return (
    <svg width={width} height={height} aria-hidden style={{ display: "block" }}>
      <line x1="1" x2={width - 1} y1={base} y2={base} stroke={ink.key} strokeOpacity="0.55" />
      <line x1={width / 2} x2={width / 2} y1="0" y2={height} stroke={ink.now} />
      <g data-base-keys={below.length} opacity="0.4">
        {below.map(({ frame, share }) => <Tick key={frame} x={xOf(frame, now, width)} share={share} here={false} base={base} height={height} />)}
      </g>
      {near.map(({ frame, share }) => <Tick key={frame} x={xOf(frame, now, width)} share={share} here={frame === now} base={base} height={height} />)}
    </svg>
  );
}

/** A tick as tall as the share that is keyed; on this frame through the line, with a foot. */
function Tick({ x, share, here, base, height }: { x: number; share: number; here: boolean; base: number; height: number }) {
  const top = base - (here ? base : base * 0.62) * Math.max(share, 0.3);
  return (
    <g data-near={here ? "here" : "there"} stroke={here ? ink.ink : ink.key}>
      <line x1={x} x2={x} y1={top} y2={here ? height - 0.75 : base} strokeWidth={here ? 2.2 : 1.6} />
      {here && <line x1={x - 3.5} x2={x + 3.5} y1={height - 0.75} y2={height - 0.75} strokeWidth="1.5" />}
    </g>
  );
}

function xOf(frame: number, now: number, width: number): number {
  return width / 2 + placeOn(frame, now) * (width / 2 - 2);
}

/** The tick under the pointer; one on this frame is in the middle, and never taken. */
function tickNear(near: NearKey[], now: number, x: number, width: number): NearKey | undefined {
  const far = ({ frame }: NearKey) => Math.abs(xOf(frame, now, width) - x);
  const middle = Math.abs(width / 2 - x);
  const best = near.filter((one) => far(one) <= 4).sort((a, b) => far(a) - far(b))[0];
  return best && far(best) < middle ? best : undefined;
}
