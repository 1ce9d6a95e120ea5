import { useRef, useState } from "react";

const kept = "bindu.lanes";
const usual = 130;
const least = 40;

/** How high the lanes are: their lower border is dragged, or moved by the arrow keys; a double click
 * brings the usual height back. It is remembered in this browser. */
export function useLaneHeight() {
  const [height, setHeight] = useState(() => Number(localStorage.getItem(kept)) || usual);
  const drag = useRef<{ y: number; height: number } | null>(null);
  const set = (next: number) => {
    const whole = Math.round(Math.min(Math.max(next, least), window.innerHeight / 2));
    setHeight(whole);
    localStorage.setItem(kept, String(whole));
  };
  const border = {
    role: "separator",
    tabIndex: 0,
    "aria-label": "Height of the lanes",
    "aria-orientation": "horizontal" as const,
    "aria-valuenow": height,
    title: "Drag to give the lanes more room; double click for the usual height",
    onPointerDown: (event: React.PointerEvent) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      drag.current = { y: event.clientY, height };
    },
    onPointerMove: (event: React.PointerEvent) => {
      if (drag.current) set(drag.current.height + event.clientY - drag.current.y);
    },
    onPointerUp: () => { drag.current = null; },
    onDoubleClick: () => { set(usual); },
    onKeyDown: (event: React.KeyboardEvent) => {
      const way = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
      if (!way) return;
      event.preventDefault();
      set(height + way * 18);
    },
  };
  return { height, border };
}
