// @vitest-environment happy-dom
import { act, useState } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { page } from "../../shared/page.testing";
import type { Window } from "../../shared/scales";
import { scalesOf } from "../../shared/scales";
import { setRange, usePlayer } from "../../state/player";
import { chooseKeys, useSelection } from "../../state/selection";
import { useScrub, useZoom } from "./gestures";
import { useBox } from "./useBox";

const keys: [number, number][] = [[10, 1], [20, 3], [60, 1]];
let seen: Window = { x: [0, 100], y: [0, 4] };

/** Ten pixels a frame, a hundred a value: frame 0 stands at 124, value 0 at 434. */
function Plane() {
  const [window, set] = useState<Window>({ x: [0, 100], y: [0, 4] });
  seen = window;
  const scales = scalesOf(window, 1140, 456);
  const ref = useZoom(window, set, scales);
  const scrub = useScrub(scales);
  const box = useBox((inside) => [{ part: "p1", channel: "size", frames: keys.filter(([frame, value]) => inside(scales.x(frame), scales.y(value))).map(([frame]) => frame) }]);
  return (
    <svg ref={ref} aria-label="plane" {...box.handlers}>
      <rect aria-label="ruler" {...scrub} />
      {box.drawn}
    </svg>
  );
}

let hand: ReturnType<typeof page>;
const chosen = () => useSelection.getState().keys.flatMap(({ frames }) => frames);
const wheel = (deltaY: number, x: number, more: object = {}) => { act(() => { hand.labelled("plane").dispatchEvent(Object.assign(new MouseEvent("wheel", { clientX: x, clientY: 234, cancelable: true, ...more }), { deltaY, deltaX: 0 })); }); };
const finger = (id: number, what: "down" | "move" | "up", x: number) => { hand.point("plane", what, x, { pointerId: id, pointerType: "touch", isPrimary: id === 1 }); };
const round = ([a, b]: [number, number]) => [Math.round(a * 100) / 100, Math.round(b * 100) / 100];

beforeEach(() => {
  setRange({ first: 0, last: 100, fps: 24 });
  hand = page();
  hand.show(<Plane />);
});
afterEach(() => {
  hand.close();
  act(() => { chooseKeys([]); });
  setRange({ first: 0, last: 0, fps: 24 });
  vi.restoreAllMocks();
});

it("moves the playhead by the ruler, with the first button alone", () => {
  hand.point("ruler", "down", 324);
  hand.point("ruler", "move", 428, { buttons: 1 });
  expect(usePlayer.getState().frame).toBe(30);
  hand.point("ruler", "move", 900);
  hand.point("ruler", "down", 900, { button: 2 });
  expect(usePlayer.getState().frame).toBe(30);
  hand.point("ruler", "down", 5000);
  expect(usePlayer.getState().frame).toBe(100);
});

it("zooms in time about the pointer, in value with Shift or over the scale", () => {
  const factor = Math.exp(-0.15);
  wheel(-100, 624);
  expect([round(seen.x), seen.y]).toEqual([round([50 - 50 * factor, 50 + 50 * factor]), [0, 4]]);
  wheel(-100, 624, { shiftKey: true });
  expect(round(seen.y)).toEqual(round([2 - 2 * factor, 2 + 2 * factor]));
  const before = seen.x;
  wheel(100, 40);
  expect([seen.x, round(seen.y)]).toEqual([before, [0, 4]]);
});

it("keeps what lies under two fingers under them, and stops when one leaves", () => {
  finger(1, "down", 324);
  finger(2, "down", 524);
  finger(2, "move", 724);
  // Frames 20 and 40 lie under fingers that are 400 pixels apart now.
  const perFrame = 1000 / (seen.x[1] - seen.x[0]);
  expect(perFrame).toBeCloseTo(20);
  expect(124 + (20 - seen.x[0]) * perFrame).toBeCloseTo(324);
  finger(2, "up", 724);
  const kept = seen.x;
  finger(1, "move", 500);
  expect([seen.x, chosen()]).toEqual([kept, []]);
});

it("chooses the keys in a box, adds with Shift, and none by a click beside", () => {
  const drag = (from: [number, number], to: [number, number], held: PointerEventInit = {}) => {
    hand.point("plane", "down", from[0], { clientY: from[1], isPrimary: true, ...held });
    hand.point("plane", "move", to[0], { clientY: to[1], isPrimary: true });
    hand.point("plane", "up", to[0]);
  };
  drag([374, 400], [200, 100]);
  expect(chosen()).toEqual([10, 20]);
  drag([700, 400], [750, 300], { shiftKey: true });
  expect(chosen()).toEqual([10, 20, 60]);
  drag([900, 100], [900, 100]);
  expect(chosen()).toEqual([]);
});

it("gives a box up on Esc and where the pointer is taken away, and lets Esc be Esc after that", () => {
  for (const giveUp of [() => { hand.press("Escape"); }, () => { hand.point("plane", "cancel", 0); }]) {
    hand.point("plane", "down", 200, { clientY: 100, isPrimary: true });
    hand.point("plane", "move", 374, { clientY: 400, isPrimary: true });
    giveUp();
    hand.point("plane", "up", 374);
    expect([chosen(), document.querySelectorAll("rect").length]).toEqual([[], 1]);
  }
  const escaped = vi.fn();
  window.addEventListener("keydown", escaped);
  hand.press("Escape");
  window.removeEventListener("keydown", escaped);
  expect(escaped).toHaveBeenCalledOnce();
});
