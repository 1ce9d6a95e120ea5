import type { MouseEvent, PointerEvent } from "react";
import { useRef, useState } from "react";

import { useEscape } from "./useEscape";

interface Options {
  value: number;
  /** What one pixel adds. */
  step: number;
  fixed?: boolean | undefined;
  onTry?: ((value: number) => void) | undefined;
  /** What was tried is given up. */
  onCancel: () => void;
  onCommit: (value: number) => void;
}

interface Drag {
  x: number;
  moved: boolean;
  /** Where it began, and where it is. */
  from: number;
  value: number;
}

/** How much a step is: ten times with Shift, a tenth with Alt. */
export function stepSize(step: number, event: { shiftKey: boolean; altKey: boolean }): number {
  return step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
}

/** A number that is dragged sideways in its field: tried while it moves, kept where it is let go,
 * given up on Esc. A press without a move puts the keyboard into the field. */
export function useValueDrag({ value, step, fixed, onTry, onCancel, onCommit }: Options) {
  const [dragged, setDragged] = useState<number | null>(null);
  const drag = useRef<Drag | null>(null);
  const escape = useEscape();

  const end = () => {
    escape.stop();
    drag.current = null;
    setDragged(null);
  };
  const cancel = () => {
    const moved = drag.current?.moved;
    end();
    if (moved) onCancel();
  };
  const onPointerDown = (event: PointerEvent<HTMLInputElement>) => {
    if (fixed || event.button !== 0 || document.activeElement === event.currentTarget) return;
    drag.current = { x: event.clientX, moved: false, from: value, value };
    escape.watch(cancel);
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const onPointerMove = (event: PointerEvent<HTMLInputElement>) => {
    const now = drag.current;
    if (!now) return;
    const way = event.clientX - now.x;
    if (!now.moved && Math.abs(way) < 4) return;
    now.moved = true;
    now.value = Number((now.from + way * stepSize(step, event)).toPrecision(12));
    setDragged(now.value);
    onTry?.(now.value);
  };
  const onPointerUp = (event: PointerEvent<HTMLInputElement>) => {
    const now = drag.current;
    if (!now) return;
    end();
    if (!now.moved) event.currentTarget.focus();
    else if (now.value !== now.from) onCommit(now.value);
    else onCancel();
  };
  // A press must not begin to select or drag text; a click focuses when it is released.
  const onMouseDown = (event: MouseEvent<HTMLInputElement>) => {
    if (!fixed && document.activeElement !== event.currentTarget) event.preventDefault();
  };
  return { dragged, handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel: cancel, onMouseDown } };
}
