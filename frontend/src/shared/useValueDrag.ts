import type { MouseEvent, PointerEvent } from "react";
import { useRef, useState } from "react";

interface Options {
  value: number;
  /** What one pixel adds. */
  step: number;
  fixed?: boolean | undefined;
  onTry?: ((value: number) => void) | undefined;
  onCommit: (value: number) => void;
}

/** How much a step is: ten times with Shift, a tenth with Alt. */
export function stepSize(step: number, event: { shiftKey: boolean; altKey: boolean }): number {
  return step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
}

/** A number that is dragged sideways in its field: tried while it moves, kept where it is let go. A
 * press without a move puts the keyboard into the field. */
export function useValueDrag({ value, step, fixed, onTry, onCommit }: Options) {
  const [dragged, setDragged] = useState<number | null>(null);
  const drag = useRef<{ x: number; moved: boolean; value: number } | null>(null);

  const onPointerDown = (event: PointerEvent<HTMLInputElement>) => {
    if (fixed || document.activeElement === event.currentTarget) return;
    drag.current = { x: event.clientX, moved: false, value };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const onPointerMove = (event: PointerEvent<HTMLInputElement>) => {
    const now = drag.current;
    if (!now) return;
    const way = event.clientX - now.x;
    if (!now.moved && Math.abs(way) < 4) return;
    now.moved = true;
    const size = stepSize(step, event);
    now.value = Number((value + way * size).toPrecision(12));
    setDragged(now.value);
    onTry?.(now.value);
  };
  const onPointerUp = (event: PointerEvent<HTMLInputElement>) => {
    const now = drag.current;
    drag.current = null;
    if (!now) return;
    if (!now.moved) {
      event.currentTarget.focus();
      return;
    }
    setDragged(null);
    if (now.value !== value) onCommit(now.value);
  };
  const onPointerCancel = () => {
    if (drag.current?.moved) onTry?.(value);
    drag.current = null;
    setDragged(null);
  };
  // A press must not begin to select or drag text; a click focuses when it is released.
  const onMouseDown = (event: MouseEvent<HTMLInputElement>) => {
    if (!fixed && document.activeElement !== event.currentTarget) event.preventDefault();
  };
  return { dragged, handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel, onMouseDown } };
}
