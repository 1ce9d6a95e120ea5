import { useState } from "react";

import type { Key, OneEdit } from "../api/client";
import type { Scales } from "../shared/scales";
import { useEscape } from "../shared/useEscape";
import { feed } from "../state/samples";
import { useEdit } from "../state/useEdit";
import type { Drag, Hands } from "../time/curves/useKeyDrag";
import { tangentTo } from "../time/curves/useKeyDrag";

/** Stops of a row, and their handles, that are dragged: tried while they move, stored where they are
 * let go. A stop moves up and down only. */
export function useRowDrag(row: string, scales: Scales, choose: (stop: number) => void, onDragging: (busy: boolean) => void): Hands & { drag: Drag | null } {
  const edit = useEdit();
  const escape = useEscape();
  const [drag, setDrag] = useState<Drag | null>(null);
  const begin = (what: Drag["what"], key: Key, event: React.PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    choose(key.frame);
    onDragging(true);
    setDrag({ what, key, frame: key.frame, value: key.value, moved: false });
    escape.watch(giveUp);
  };
  const move = (event: React.PointerEvent<SVGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!drag || !box) return;
    const value = Number(scales.y.invert(event.clientY - box.top).toPrecision(4));
    const frame = drag.what === "key" ? drag.frame : scales.x.invert(event.clientX - box.left);
    const moved = { ...drag, frame, value, moved: true };
    setDrag(moved);
    feed.tryOut([editOf(moved, row)]);
  };
  const letGo = () => {
    escape.stop();
    setDrag(null);
    onDragging(false);
  };
  const giveUp = () => {
    letGo();
    feed.tryOut([]);
  };
  const end = () => {
    letGo();
    if (drag?.moved) void edit(editOf(drag, row));
  };
  return { drag, begin, move, end, giveUp };
}

function editOf(now: Drag, row: string): OneEdit {
  if (now.what === "key") return { do: "put cells", cells: [{ row, stop: now.key.frame, value: now.value }] };
  const bent = now.what === "left" ? { left: tangentTo(now) } : { right: tangentTo(now) };
  const kept = now.key.mode === "broken" ? ("broken" as const) : ("joined" as const);
  return { do: "shape rows", rows: [row], changes: [{ frame: now.key.frame, mode: kept, ...bent }] };
}
