import { useMemo } from "react";

import type { Key, OneEdit, Tangent } from "../../api/client";
import { feed } from "../../state/samples";
import { addKeys, chooseKeys, useChosenFrames, useSelection } from "../../state/selection";
import { useEdit } from "../../state/useEdit";
import { useEscape } from "../../shared/useEscape";
import { useLatest } from "../../shared/useLatest";
import type { Scales } from "../../shared/scales";
import { movedPicks } from "../keys/keyCommands";
import { useDrawn } from "./useDrawn";

export interface Drag {
  what: "key" | "left" | "right";
  key: Key;
  frame: number;
  value: number;
  moved: boolean;
}

/** What a pointer does to keys and handles. */
export interface Hands {
  begin: (what: Drag["what"], key: Key, event: React.PointerEvent) => void;
  move: (event: React.PointerEvent<SVGElement>) => void;
  end: () => void;
  /** As if nothing had been dragged. */
  giveUp: () => void;
}

export interface KeyDrag {
  drag: Drag | null;
  /** The frames of the chosen keys of this curve. */
  chosen: number[];
  /** Always the same, so that only what is dragged is drawn again. */
  hands: Hands;
}

/** Keys and handles that are dragged: tried while they move, stored where they are let go. */
export function useKeyDrag(
  where: { part: string; channel: string },
  scales: Scales,
  onDragging: (busy: boolean) => void,
): KeyDrag {
  const edit = useEdit();
  const chosen = useChosenFrames(where.part, where.channel);
  const [drag, drawn] = useDrawn<Drag>();
  const escape = useEscape();
  const latest = useLatest({ where, scales, onDragging, edit, chosen });
  const hands = useMemo((): Hands => {
    let held: Drag | null = null;
    // Where the plane lies, asked once: each asking lays the page out anew.
    let plane: DOMRect | undefined;
    const letGo = () => {
      escape.stop();
      held = null;
      drawn.now(null);
      latest.current.onDragging(false);
    };
    const giveUp = () => {
      letGo();
      feed.tryOut([]);
    };
    return {
      giveUp,
      begin: (what, key, event) => {
        if (event.button !== 0) return;
        event.stopPropagation();
        const only = [{ ...latest.current.where, frames: [key.frame] }];
        if (event.shiftKey && what === "key") {
          addKeys(only);
          return;
        }
        event.currentTarget.setPointerCapture(event.pointerId);
        if (!latest.current.chosen.includes(key.frame)) chooseKeys(only);
        held = { what, key, frame: key.frame, value: key.value, moved: false };
        plane = (event.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect();
        drawn.now(held);
        latest.current.onDragging(true);
        escape.watch(giveUp);
      },
      move: (event) => {
        if (!held || !plane) return;
        held = movedTo(held, event, plane, latest.current.scales);
        drawn.soon(held);
        feed.tryOut([editOf(held, latest.current.where)]);
      },
      end: () => {
        const now = held;
        if (!now) return;
        letGo();
        store(now, latest.current.where, latest.current.edit);
      },
    };
  }, [latest, escape, drawn]);
  return { drag, chosen, hands };
}

/** A drag under the pointer: keys go to whole frames, with Alt anywhere. */
function movedTo(drag: Drag, event: React.PointerEvent, plane: DOMRect, scales: Scales): Drag {
  const at = scales.x.invert(event.clientX - plane.left);
  const value = scales.y.invert(event.clientY - plane.top);
  const frame = drag.what === "key" && !event.altKey ? Math.round(at) : at;
  return { ...drag, frame, value: rounded(value, scales), moved: true };
}

/** Stores where keys or a handle were let go, the keys still chosen there; a press without a move chooses the key alone. */
function store(drag: Drag, where: { part: string; channel: string }, edit: ReturnType<typeof useEdit>) {
  if (!drag.moved) {
    if (drag.what === "key") chooseKeys([{ ...where, frames: [drag.key.frame] }]);
    return;
  }
  const before = useSelection.getState().keys;
  const made = editOf(drag, where);
  if (drag.what === "key") chooseKeys(movedPicks(before, drag.frame - drag.key.frame));
  void edit(made).then((stored) => {
    if (!stored) chooseKeys(before);
  });
}

/** The edit that a drag comes to so far: of all chosen keys, or of one handle. */
function editOf(now: Drag, where: { part: string; channel: string }): OneEdit {
  const { frame } = now.key;
  if (now.what === "key") {
    const { keys } = useSelection.getState();
    const picks = keys.length ? keys : [{ ...where, frames: [frame] }];
    const single = picks.length === 1 && picks[0]?.frames.length === 1;
    if (single) {
      return { do: "change keys", ...where, changes: [{ frame, to_frame: now.frame, value: now.value }] };
    }
    return { do: "move keys", picks, frames: now.frame - frame, value: now.value - now.key.value };
  }
  const tangent = tangentTo(now);
  const mode = now.key.mode === "broken" ? "broken" : "joined";
  const bent = now.what === "left" ? { left: tangent } : { right: tangent };
  return { do: "change keys", ...where, changes: [{ frame, mode, ...bent }] };
}

/** The tangent that reaches where a handle was dragged. */
export function tangentTo(drag: Drag): Tangent {
  const sign = drag.what === "left" ? -1 : 1;
  const frames = Math.max((drag.frame - drag.key.frame) * sign, 1e-3);
  const value = (drag.value - drag.key.value) * sign;
  return { angle: (Math.atan2(value, frames) * 180) / Math.PI, length: Math.hypot(frames, value) };
}

/** As many digits as a pixel can mean. */
function rounded(value: number, { y }: Scales) {
  const pixel = Math.abs(y.invert(0) - y.invert(1));
  const digits = Math.min(Math.max(Math.ceil(-Math.log10(pixel)), 0), 8);
  return Number(value.toFixed(digits));
}
