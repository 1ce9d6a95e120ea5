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

/** The wheel zooms about the pointer: frames, with Shift values; the middle button pans. Two fingers do
 * both with frames. */
export function useZoom(seen: Window, set: (window: Window) => void, scales: Scales) {
  const ref = useRef<SVGSVGElement>(null);
  const latest = useLatest({ seen, set, scales });
  useEffect(() => {
    const svg = ref.current;
    if (!svg) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const { seen: now, set: apply, scales: by } = latest.current;
      const box = svg.getBoundingClientRect();
      const turn = event.deltaY || event.deltaX;
      const factor = Math.exp(turn * 0.0015);
      const about = (range: [number, number], centre: number): [number, number] => [
        centre + (range[0] - centre) * factor,
        centre + (range[1] - centre) * factor,
      ];
      const onValues = event.shiftKey || event.clientX - box.left < margin.left;
      apply(
        onValues
          ? { x: now.x, y: about(now.y, by.y.invert(event.clientY - box.top)) }
          : { x: about(now.x, by.x.invert(event.clientX - box.left)), y: now.y },
      );
    };
    const fingers = new Map<number, number>();
    const onFinger = (event: PointerEvent) => {
      if (event.pointerType === "touch") fingers.set(event.pointerId, event.clientX);
    };
    const onLeft = (event: PointerEvent) => { fingers.delete(event.pointerId); };
    /** What lay under both fingers stays under them. */
    const onPinch = (event: PointerEvent) => {
      const { seen: now, set: apply, scales: by } = latest.current;
      const left = svg.getBoundingClientRect().left;
      const frames = [...fingers.values()].map((at) => by.x.invert(at - left));
      fingers.set(event.pointerId, event.clientX);
      const [x0 = 0, x1 = 0] = [...fingers.values()].map((at) => at - left);
      const [a = 0, b = 0] = frames;
      const [start = 0, end = 0] = by.x.range();
      if (Math.abs(x1 - x0) < 20) return;
      const slope = (b - a) / (x1 - x0);
      if (slope > 0) apply({ x: [a + (start - x0) * slope, a + (end - x0) * slope], y: now.y });
    };
    const onMove = (event: PointerEvent) => {
      if (fingers.size === 2 && fingers.has(event.pointerId)) onPinch(event);
      if (!(event.buttons & 4)) return;
      const { seen: now, set: apply, scales: by } = latest.current;
      const dx = by.x.invert(0) - by.x.invert(event.movementX);
      const dy = by.y.invert(0) - by.y.invert(event.movementY);
      apply({ x: [now.x[0] + dx, now.x[1] + dx], y: [now.y[0] + dy, now.y[1] + dy] });
    };
    svg.addEventListener("wheel", onWheel, { passive: false });
    svg.addEventListener("pointermove", onMove);
    svg.addEventListener("pointerdown", onFinger);
    svg.addEventListener("pointerup", onLeft);
    svg.addEventListener("pointercancel", onLeft);
    return () => {
      svg.removeEventListener("pointerdown", onFinger);
      svg.removeEventListener("pointerup", onLeft);
      svg.removeEventListener("pointercancel", onLeft);
      svg.removeEventListener("wheel", onWheel);
      svg.removeEventListener("pointermove", onMove);
    };
  }, [latest]);
  return ref;
}
