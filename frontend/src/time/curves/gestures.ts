import { useEffect, useRef } from "react";

import { goTo, stop } from "../../state/player";
import type { Scales, Window } from "../../shared/scales";
import { margin } from "../../shared/scales";
import { useLatest } from "../../shared/useLatest";

/** Dragging the ruler moves the playhead. */
export function useScrub({ x }: Scales) {
  const to = (event: React.PointerEvent<SVGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (box) goTo(x.invert(event.clientX - box.left));
  };
  return {
    onPointerDown: (event: React.PointerEvent<SVGElement>) => {
      if (event.button !== 0) return;
      stop();
      event.currentTarget.setPointerCapture(event.pointerId);
      to(event);
    },
    onPointerMove: (event: React.PointerEvent<SVGElement>) => {
      if (event.buttons & 1) to(event);
    },
  };
}

/** Both ends of a range, drawn nearer to a centre or away from it. */
function about([from, to]: [number, number], centre: number, factor: number): [number, number] {
  return [centre + (from - centre) * factor, centre + (to - centre) * factor];
}

/** The window after a turn of the wheel about the pointer: of frames; with Shift, or on the scale of
 * values, of values. */
function wheeled(event: WheelEvent, box: DOMRect, seen: Window, by: Scales): Window {
  const factor = Math.exp((event.deltaY || event.deltaX) * 0.0015);
  const onValues = event.shiftKey || event.clientX - box.left < margin.left;
  return onValues
    ? { x: seen.x, y: about(seen.y, by.y.invert(event.clientY - box.top), factor) }
    : { x: about(seen.x, by.x.invert(event.clientX - box.left), factor), y: seen.y };
}

/** The window after a move with the middle button. */
function panned(event: PointerEvent, seen: Window, by: Scales): Window {
  const dx = by.x.invert(0) - by.x.invert(event.movementX);
  const dy = by.y.invert(0) - by.y.invert(event.movementY);
  return { x: [seen.x[0] + dx, seen.x[1] + dx], y: [seen.y[0] + dy, seen.y[1] + dy] };
}

/** The window in which what lay under both fingers stays under them; null where they are too near. */
function pinched(before: number[], after: number[], seen: Window, by: Scales): Window | null {
  const [a = 0, b = 0] = before.map((at) => by.x.invert(at));
  const [x0 = 0, x1 = 0] = after;
  if (Math.abs(x1 - x0) < 20) return null;
  const slope = (b - a) / (x1 - x0);
  const [start = 0, end = 0] = by.x.range();
  return slope > 0 ? { x: [a + (start - x0) * slope, a + (end - x0) * slope], y: seen.y } : null;
}

/** The wheel zooms about the pointer: frames, with Shift values; the middle button pans. Two fingers do
 * both with frames. */
export function useZoom(seen: Window, set: (window: Window) => void, scales: Scales) {
  const ref = useRef<SVGSVGElement>(null);
  const latest = useLatest({ seen, set, scales });
  useEffect(() => {
    const svg = ref.current;
    if (!svg) return;
    const listening = new AbortController();
    const { signal } = listening;
    const fingers = new Map<number, number>();
    const show = (change: (seen: Window, by: Scales) => Window | null) => {
      const { seen: now, set: apply, scales: by } = latest.current;
      const next = change(now, by);
      if (next) apply(next);
    };
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      show((now, by) => wheeled(event, svg.getBoundingClientRect(), now, by));
    };
    const onMove = (event: PointerEvent) => {
      if (fingers.size === 2 && fingers.has(event.pointerId)) {
        const { left } = svg.getBoundingClientRect();
        const places = () => [...fingers.values()].map((at) => at - left);
        const before = places();
        fingers.set(event.pointerId, event.clientX);
        show((now, by) => pinched(before, places(), now, by));
      }
      if (event.buttons & 4) show((now, by) => panned(event, now, by));
    };
    const onFinger = (event: PointerEvent) => {
      if (event.pointerType === "touch") fingers.set(event.pointerId, event.clientX);
    };
    const onLeft = (event: PointerEvent) => { fingers.delete(event.pointerId); };
    svg.addEventListener("wheel", onWheel, { passive: false, signal });
    svg.addEventListener("pointermove", onMove, { signal });
    svg.addEventListener("pointerdown", onFinger, { signal });
    svg.addEventListener("pointerup", onLeft, { signal });
    svg.addEventListener("pointercancel", onLeft, { signal });
    return () => { listening.abort(); };
  }, [latest]);
  return ref;
}
