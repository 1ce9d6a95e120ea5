import { useEffect, useRef } from "react";

import { goTo, stop } from "../../state/player";
import type { Scales, Window } from "../../shared/scales";
import { margin } from "../../shared/scales";

/** Dragging the ruler moves the playhead. */
export function useScrub({ x }: Scales) {
  const to = (event: React.PointerEvent<SVGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (box) goTo(x.invert(event.clientX - box.left));
  };
  return {
    onPointerDown: (event: React.PointerEvent<SVGElement>) => {
      stop();
      event.currentTarget.setPointerCapture(event.pointerId);
      to(event);
    },
    onPointerMove: (event: React.PointerEvent<SVGElement>) => {
      if (event.buttons & 1) to(event);
    },
  };
}

/** The wheel zooms about the pointer: frames, with Shift values; the middle button pans. */
export function useZoom(seen: Window, set: (window: Window) => void, scales: Scales) {
  const ref = useRef<SVGSVGElement>(null);
  const latest = useRef({ seen, set, scales });
  useEffect(() => {
    latest.current = { seen, set, scales };
  });
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
    const onMove = (event: PointerEvent) => {
      if (!(event.buttons & 4)) return;
      const { seen: now, set: apply, scales: by } = latest.current;
      const dx = by.x.invert(0) - by.x.invert(event.movementX);
      const dy = by.y.invert(0) - by.y.invert(event.movementY);
      apply({ x: [now.x[0] + dx, now.x[1] + dx], y: [now.y[0] + dy, now.y[1] + dy] });
    };
    svg.addEventListener("wheel", onWheel, { passive: false });
    svg.addEventListener("pointermove", onMove);
    return () => {
      svg.removeEventListener("wheel", onWheel);
      svg.removeEventListener("pointermove", onMove);
    };
  }, []);
  return ref;
}
