import type { ScaleLinear } from "d3-scale";
import { memo, useState } from "react";

import { useEdit } from "../../state/useEdit";
import { useKeyState } from "../../state/keying";
import { goTo, usePlayer } from "../../state/player";
import { feed } from "../../state/samples";
import type { KeyPick } from "../../state/selection";
import { addKeys, chooseChannel, chooseKeys, framesOf, useSelection } from "../../state/selection";
import { useEscape } from "../../shared/useEscape";
import { ink } from "../../shared/theme";
import { margin } from "../../shared/scales";
import { movedPicks } from "../keys/keyCommands";
import type { LaneRow } from "./rows";

export const laneHeight = 18;

interface Props {
  rows: LaneRow[];
  x: ScaleLinear<number, number>;
  width: number;
}

type Drag =
  | { what: "keys"; from: number; by: number; copy: boolean }
  | { what: "box"; x0: number; y0: number; x1: number; y1: number; add: boolean };

/** Keys as dots over time, a row for each curve: click or box to choose, drag to move, Ctrl to
 * copy. */
export function LaneKeys({ rows, x, width }: Props) {
  const edit = useEdit();
  const keys = useSelection((selection) => selection.keys);
  const [drag, setDrag] = useState<Drag | null>(null);
  const by = drag?.what === "keys" ? drag.by : 0;
  const escape = useEscape();
  const begin = (made: Drag) => {
    setDrag(made);
    escape.watch(giveUp);
  };
  const giveUp = () => {
    escape.stop();
    setDrag(null);
    feed.tryOut([]);
  };

  const placeOf = (event: React.PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top] as const;
  };
  const onPointerDown = (event: React.PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0) return;
    const [px, py] = placeOf(event);
    event.currentTarget.setPointerCapture(event.pointerId);
    const hit = hitOf(rows, x, px, py);
    if (!hit) {
      if (px < margin.left) {
        const row = rows[Math.floor(py / laneHeight)];
        if (row) chooseChannel(row.part, row.channel.split(":").at(-1) ?? row.channel);
        return;
      }
      begin({ what: "box", x0: px, y0: py, x1: px, y1: py, add: event.shiftKey });
      return;
    }
    if (event.shiftKey) {
      addKeys([hit]);
      return;
    }
    const chosen = framesOf(useSelection.getState().keys, hit.part, hit.channel);
    if (!chosen.includes(hit.frames[0] ?? NaN)) {
      chooseChannel(hit.part, hit.channel.split(":").at(-1) ?? hit.channel);
      chooseKeys([hit]);
      goTo(hit.frames[0] ?? 0);
    }
    begin({ what: "keys", from: hit.frames[0] ?? 0, by: 0, copy: event.ctrlKey });
  };
  const onPointerMove = (event: React.PointerEvent<SVGSVGElement>) => {
    if (!drag) return;
    const [px, py] = placeOf(event);
    if (drag.what === "box") {
      setDrag({ ...drag, x1: px, y1: py });
      return;
    }
    const frames = Math.round(x.invert(px) - drag.from);
    if (frames === drag.by) return;
    setDrag({ ...drag, by: frames, copy: event.ctrlKey });
    feed.tryOut([{ do: "move keys", picks: useSelection.getState().keys, frames, copy: event.ctrlKey }]);
  };
  const onPointerUp = () => {
    const now = drag;
    escape.stop();
    setDrag(null);
    if (now?.what === "box") {
      const picks = boxed(rows, x, now);
      if (now.add) addKeys(picks);
      else chooseKeys(picks);
    }
    if (now?.what !== "keys" || !now.by) return;
    const before = useSelection.getState().keys;
    chooseKeys(movedPicks(before, now.by));
    void edit({ do: "move keys", picks: before, frames: now.by, copy: now.copy }).then((stored) => {
      if (!stored) chooseKeys(before);
    });
  };

  return (
    <svg
      width={width}
      height={rows.length * laneHeight}
      role="group"
      aria-label="Keys over time"
      style={{ display: "block", touchAction: "none", userSelect: "none" }}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={giveUp}
    >
      {rows.map((row, n) => (
        <Lane key={`${row.part}/${row.channel}`} row={row} place={n} x={x} width={width} chosen={framesOf(keys, row.part, row.channel)} by={by} />
      ))}
      <Now x={x} height={rows.length * laneHeight} />
      {drag?.what === "box" && (
        <rect
          x={Math.min(drag.x0, drag.x1)}
          y={Math.min(drag.y0, drag.y1)}
          width={Math.abs(drag.x1 - drag.x0)}
          height={Math.abs(drag.y1 - drag.y0)}
          fill="#1E2B33"
          fillOpacity="0.08"
          stroke={ink.ink}
          strokeDasharray="3 2"
        />
      )}
    </svg>
  );
}

interface LaneProps {
  row: LaneRow;
  place: number;
  x: ScaleLinear<number, number>;
  width: number;
  chosen: number[];
  by: number;
}

const Lane = memo(function Lane({ row, place, x, width, chosen, by }: LaneProps) {
  const y = place * laneHeight + laneHeight / 2;
  const layer = useKeyState((keying) => keying.layer);
  const own = useSelection(
    ({ part, channel }) =>
      part === row.part && row.channel === (layer === null ? channel : `${layer}:${channel ?? ""}`),
  );
  const [low = 0, high = width] = x.range();
  return (
    <g>
      {own && <rect x="0" y={y - laneHeight / 2} width={width} height={laneHeight} fill={ink.chosen} />}
      <line x1={margin.left} x2={width - margin.right} y1={y} y2={y} stroke="#E9E4D9" />
      <text x="12" y={y + 4} fontSize="11" fill={ink.quiet} style={{ cursor: "pointer" }}>
        <title>{row.name}</title>
        {row.short}
      </text>
      {row.curve.keys.map(({ frame, interpolation }) => {
        const isChosen = chosen.includes(frame);
        const at = x(frame + (isChosen ? by : 0));
        if (at < low - 5 || at > high + 5) return null;
        const shape = interpolation === "hold" ? <rect x={at - 4} y={y - 4} width="8" height="8" /> : <circle cx={at} cy={y} r="4.5" />;
        return (
          <g key={frame} data-lane={row.name} data-frame-lane={frame} fill={isChosen ? ink.ink : "#7B8791"} style={{ cursor: "pointer" }}>
            <title>{`${row.name}: key at ${String(frame)}, ${interpolation ?? "smooth"}`}</title>
            {shape}
          </g>
        );
      })}
    </g>
  );
});

function Now({ x, height }: { x: ScaleLinear<number, number>; height: number }) {
  const frame = usePlayer((player) => player.frame);
  return <line x1={x(frame)} x2={x(frame)} y1="0" y2={height} stroke={ink.ink} pointerEvents="none" />;
}

function hitOf(rows: LaneRow[], x: ScaleLinear<number, number>, px: number, py: number): KeyPick | null {
  const row = rows[Math.floor(py / laneHeight)];
  if (!row) return null;
  const near = row.curve.keys.filter(({ frame }) => Math.abs(x(frame) - px) <= 6);
  const best = near.sort((a, b) => Math.abs(x(a.frame) - px) - Math.abs(x(b.frame) - px))[0];
  return best ? { part: row.part, channel: row.channel, frames: [best.frame] } : null;
}

function boxed(
  rows: LaneRow[],
  x: ScaleLinear<number, number>,
  box: { x0: number; y0: number; x1: number; y1: number },
): KeyPick[] {
  const [left, right] = [Math.min(box.x0, box.x1), Math.max(box.x0, box.x1)];
  const [top, bottom] = [Math.min(box.y0, box.y1), Math.max(box.y0, box.y1)];
  return rows.flatMap((row, n) => {
    const y = n * laneHeight + laneHeight / 2;
    if (y < top || y > bottom) return [];
    const frames = row.curve.keys.map(({ frame }) => frame).filter((f) => x(f) >= left && x(f) <= right);
    return frames.length ? [{ part: row.part, channel: row.channel, frames }] : [];
  });
}
