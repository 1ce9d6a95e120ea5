import type { ScaleLinear } from "d3-scale";

import { useEdit } from "../../state/useEdit";
import { goTo } from "../../state/player";
import { feed } from "../../state/samples";
import type { KeyPick } from "../../state/selection";
import { addKeys, chooseKeys, framesOf, useSelection } from "../../state/selection";
import { ink } from "../../shared/theme";
import { margin } from "../../shared/scales";
import { reachOf } from "../../shared/fingers";
import { useEscape } from "../../shared/useEscape";
import { useHeld } from "../../shared/useHeld";
import { movedPicks } from "../keys/keyCommands";
import { chooseLane } from "./chooseLane";
import type { LaneLine } from "./rows";
import { isHead } from "./rows";

export const laneHeight = 18;
/** How much of the lanes the names take; keys begin behind them. */
export const nameWidth = margin.left - 14;

type X = ScaleLinear<number, number>;
interface KeysDrag {
  what: "keys";
  hit: KeyPick;
  from: number;
  by: number;
  moved: boolean;
  copy: boolean;
}
type Drag = KeysDrag | (BoxProps & { what: "box"; add: boolean });

/** What the pointer does on the lanes: click or box to choose keys, drag to move, Ctrl to copy. */
export function useLaneDrag(lines: LaneLine[], x: X) {
  const edit = useEdit();
  const { held, drawn, hold } = useHeld<Drag>();
  const escape = useEscape();
  const giveUp = () => {
    escape.stop();
    hold(null);
    feed.tryOut([]);
  };
  const begin = (made: Drag) => {
    hold(made);
    escape.watch(giveUp);
  };
  const onPointerDown = (event: React.PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0) return;
    const [px, py] = placeOf(event);
    event.currentTarget.setPointerCapture(event.pointerId);
    const hit = hitOf(lines, x, px, py, reachOf(event));
    if (!hit) {
      begin({ what: "box", x0: px, y0: py, x1: px, y1: py, add: event.shiftKey });
      return;
    }
    if (event.shiftKey) {
      addKeys([hit]);
      return;
    }
    const frame = hit.frames[0] ?? 0;
    if (!framesOf(useSelection.getState().keys, hit.part, hit.channel).includes(frame)) choose(hit);
    begin({ what: "keys", hit, from: frame, by: 0, moved: false, copy: event.ctrlKey });
  };
  const onPointerMove = (event: React.PointerEvent<SVGSVGElement>) => {
    const drag = held.current;
    if (!drag) return;
    const [px, py] = placeOf(event);
    if (drag.what === "box") {
      hold({ ...drag, x1: px, y1: py });
      return;
    }
    const frames = Math.round(x.invert(px) - drag.from);
    if (frames === drag.by) return;
    hold({ ...drag, by: frames, moved: true, copy: event.ctrlKey });
    feed.tryOut(frames ? [{ do: "move keys", picks: useSelection.getState().keys, frames, copy: event.ctrlKey }] : []);
  };
  const onPointerUp = () => {
    const drag = held.current;
    escape.stop();
    hold(null);
    if (drag?.what === "box") (drag.add ? addKeys : chooseKeys)(boxed(lines, x, drag));
    if (drag?.what === "keys") store(drag, edit);
  };
  return {
    by: drawn?.what === "keys" ? drawn.by : 0,
    drawn: drawn?.what === "box" ? <Box {...drawn} /> : null,
    handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel: giveUp },
  };
}

/** Stores where keys were let go, the keys still chosen there; a press without a move chooses the one key. */
function store({ hit, moved, by, copy }: KeysDrag, edit: ReturnType<typeof useEdit>) {
  if (!moved) choose(hit);
  if (!by) return;
  const before = useSelection.getState().keys;
  chooseKeys(movedPicks(before, by));
  void edit({ do: "move keys", picks: before, frames: by, copy }).then((stored) => {
    if (!stored) chooseKeys(before);
  });
}

/** Chooses one key, and goes to its frame. */
function choose(hit: KeyPick) {
  chooseLane(hit.part, hit.channel);
  chooseKeys([hit]);
  goTo(hit.frames[0] ?? 0);
}

interface BoxProps {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

function Box({ x0, y0, x1, y1 }: BoxProps) {
  return (
    <rect
      x={Math.min(x0, x1)}
      y={Math.min(y0, y1)}
      width={Math.abs(x1 - x0)}
      height={Math.abs(y1 - y0)}
      fill={ink.ink}
      fillOpacity="0.08"
      stroke={ink.ink}
      strokeDasharray="3 2"
    />
  );
}

function placeOf(event: React.PointerEvent<SVGSVGElement>) {
  const box = event.currentTarget.getBoundingClientRect();
  return [event.clientX - box.left + nameWidth, event.clientY - box.top] as const;
}

function hitOf(lines: LaneLine[], x: X, px: number, py: number, reach: number): KeyPick | null {
  const row = lines[Math.floor(py / laneHeight)];
  if (!row || isHead(row)) return null;
  const near = row.curve.keys.filter(({ frame }) => Math.abs(x(frame) - px) <= reach);
  const best = near.sort((a, b) => Math.abs(x(a.frame) - px) - Math.abs(x(b.frame) - px))[0];
  return best ? { part: row.part, channel: row.channel, frames: [best.frame] } : null;
}

function boxed(lines: LaneLine[], x: X, box: BoxProps): KeyPick[] {
  const [left, right] = [Math.min(box.x0, box.x1), Math.max(box.x0, box.x1)];
  const [top, bottom] = [Math.min(box.y0, box.y1), Math.max(box.y0, box.y1)];
  return lines.flatMap((line, n) => {
    const y = n * laneHeight + laneHeight / 2;
    if (isHead(line) || y < top || y > bottom) return [];
    const frames = line.curve.keys.map(({ frame }) => frame).filter((f) => x(f) >= left && x(f) <= right);
    return frames.length ? [{ part: line.part, channel: line.channel, frames }] : [];
  });
}
