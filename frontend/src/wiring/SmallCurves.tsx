import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { useMemo } from "react";

import type { WhatIfView } from "../state/order";
import { goTo, usePlayer } from "../state/player";
import { shown } from "../shared/format";
import { rangeOf } from "../shared/scales";
import { ink } from "../shared/theme";

const size = { width: 268, height: 54, pad: 4 };

interface Props {
  view: WhatIfView;
  /** How many curves at most. */
  most: number;
  /** Whether channels are listed that do not differ. */
  all?: boolean;
}

/** Channels on both sides: before thin and grey, after strong; the worst frame named. */
export function SmallCurves({ view, most, all = false }: Props) {
  const listed = view.differences.filter(({ worst }) => all || worst > 1e-9);
  if (!listed.length) return <p style={{ color: ink.quiet, margin: "4px 0" }}>No channel differs on any frame.</p>;
  return (
    <div style={{ display: "grid", gap: 6 }}>
      {listed.slice(0, most).map((one) => <Curve key={`${one.part}/${one.channel}`} first={view.first} one={one} />)}
      {listed.length > most && <span style={{ color: ink.quiet, fontSize: 11.5 }}>and {listed.length - most} more</span>}
    </div>
  );
}

function Curve({ first, one }: { first: number; one: WhatIfView["differences"][number] }) {
  const frame = usePlayer((player) => player.frame);
  const { before, after, x } = useMemo(() => paths(one.one, one.other), [one]);
  const last = one.one.length - 1;
  const place = Math.min(Math.max(frame - first, 0), last);
  return (
    <figure style={{ margin: 0 }}>
      <figcaption style={{ display: "flex", fontSize: 11.5, gap: 6 }}>
        <span className="mono" style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{one.name}</span>
        {one.worst > 1e-9 ? (
          <button type="button" title="Go to the frame where they differ most" onClick={() => { goTo(one.worst_frame); }} style={{ all: "unset", cursor: "pointer", textDecoration: "underline dotted" }}>
            {`${shown(one.worst, one.unit)} apart at ${String(one.worst_frame)}`}
          </button>
        ) : "the same"}
      </figcaption>
      <svg width={size.width} height={size.height} role="img" aria-label={`${one.name} before and after`} style={{ background: ink.field, border: `1px solid ${ink.line}`, borderRadius: 4 }}>
        <path d={before} fill="none" stroke={ink.key} strokeWidth="1.5" strokeDasharray="4 3" />
        <path d={after} fill="none" stroke={ink.ink} strokeWidth="1.8" />
        <line x1={x(place)} x2={x(place)} y1="0" y2={size.height} stroke={ink.now} strokeWidth="1" />
      </svg>
      <div className="mono" style={{ fontSize: 11, color: ink.quiet }}>
        at {frame}: {shown(one.one[place], one.unit)} → {shown(one.other[place], one.unit)}
      </div>
    </figure>
  );
}

function paths(one: number[], other: number[]) {
  const [low, high] = rangeOf([...one, ...other]);
  const x = scaleLinear([0, one.length - 1], [size.pad, size.width - size.pad]);
  const y = scaleLinear(low === high ? [low - 1, high + 1] : [low, high], [size.height - size.pad, size.pad]);
  const path = line<number>((_, n) => x(n), (value) => y(value));
  return { before: path(one) ?? "", after: path(other) ?? "", x };
}
