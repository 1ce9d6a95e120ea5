// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { Key } from "../../api/client";
import { page } from "../../shared/page.testing";
import { scalesOf } from "../../shared/scales";
import { closeScene, useOpenScene } from "../../state/openScene";
import { feed, useSamples } from "../../state/samples";
import { chooseKeys, useSelection } from "../../state/selection";
import { standIn } from "../../state/server.testing";
import type { Drag } from "./useKeyDrag";
import { tangentTo, useKeyDrag } from "./useKeyDrag";

// Ten pixels are a frame, and a hundred a whole value; frame 0 stands at 124, value 0 at 434.
const scales = scalesOf({ x: [0, 100], y: [0, 4] }, 1140, 456);
const keys: Key[] = [10, 20].map((frame) => ({ frame, value: 1 }) as Key);
const where = { part: "p1", channel: "size" };
const held = vi.fn<(busy: boolean) => void>();

function Plane() {
  const { drag, hands } = useKeyDrag(where, scales, held);
  return (
    <svg>
      <text aria-label="drawn">{drag?.frame}</text>
      {keys.map((key) => (
        <g key={key.frame}>
          <circle aria-label={`key ${String(key.frame)}`} onPointerDown={(event) => { hands.begin("key", key, event); }} onPointerMove={hands.move} onPointerUp={hands.end} onPointerCancel={hands.giveUp} />
          <circle aria-label={`handle ${String(key.frame)}`} onPointerDown={(event) => { hands.begin("right", key, event); }} onPointerMove={hands.move} onPointerUp={hands.end} />
        </g>
      ))}
    </svg>
  );
}

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const frames = () => useSelection.getState().keys.flatMap((pick) => pick.frames);

beforeEach(() => {
  server = standIn();
  useOpenScene.setState({ sceneId: 7 });
  hand = page();
  hand.show(<Plane />);
  held.mockClear();
});
afterEach(() => {
  hand.close();
  act(() => { chooseKeys([]); feed.tryOut([]); });
  closeScene();
  vi.unstubAllGlobals();
});

it("tries a dragged key while it moves, on whole frames, and stores it once where it is let go", async () => {
  hand.point("key 10", "down", 224, { clientY: 334 });
  expect([frames(), held.mock.calls]).toEqual([[10], [[true]]]);
  hand.point("key 10", "move", 241, { clientY: 284 });
  expect(feed.allTried()).toEqual([{ do: "change keys", ...where, changes: [{ frame: 10, to_frame: 12, value: 1.5 }] }]);
  hand.point("key 10", "move", 251, { clientY: 284, altKey: true });
  hand.point("key 10", "up", 251);
  await server.settled();
  expect(server.edits()).toEqual([{ do: "change keys", ...where, changes: [{ frame: 10, to_frame: 12.7, value: 1.5 }] }]);
  expect([frames(), held.mock.calls.at(-1), useSamples.getState().trying]).toEqual([[12.7], [false], false]);
});

it("moves all chosen keys with the one that is dragged, and chooses them as before where that is refused", async () => {
  act(() => { chooseKeys([{ ...where, frames: [10, 20] }, { part: "p2", channel: "size", frames: [5] }]); });
  server.refuse("a key stands there already");
  hand.point("key 20", "down", 324, { clientY: 334 });
  hand.point("key 20", "move", 294, { clientY: 334 });
  hand.point("key 20", "up", 294);
  expect(frames()).toEqual([7, 17, 2]);
  await server.settled();
  expect(server.edits()).toMatchObject([{ do: "move keys", frames: -3, value: 0 }]);
  expect([frames(), feed.allTried()]).toEqual([[10, 20, 5], []]);
});

it("draws where it is with the next numbers that come, and by itself where none come", async () => {
  const drawn = () => hand.labelled("drawn").textContent;
  hand.point("key 10", "down", 224);
  hand.point("key 10", "move", 234);
  await server.settled();
  expect(drawn()).toBe("11");
  hand.point("key 10", "move", 244);
  expect(drawn()).toBe("11");
  act(() => { useSamples.setState({ blocks: {} }); });
  expect(drawn()).toBe("12");
  vi.useFakeTimers();
  hand.point("key 10", "move", 254);
  hand.point("key 10", "move", 264);
  act(() => { vi.advanceTimersByTime(60); });
  vi.useRealTimers();
  expect(drawn()).toBe("14");
  hand.press("Escape");
  expect(drawn()).toBe("");
});

it("chooses by a click, adds with Shift, and does nothing by another button", () => {
  hand.point("key 10", "down", 224);
  hand.point("key 10", "up", 224);
  hand.point("key 20", "down", 324, { shiftKey: true });
  expect(frames()).toEqual([10, 20]);
  hand.point("key 10", "down", 224);
  hand.point("key 10", "up", 224);
  expect(frames()).toEqual([10]);
  hand.point("key 20", "down", 324, { button: 2 });
  hand.point("key 20", "move", 350);
  expect([frames(), feed.allTried(), server.edits()]).toEqual([[10], [], []]);
});

it("gives up on Esc, and where the pointer is taken away", async () => {
  for (const giveUp of [() => { hand.press("Escape"); }, () => { hand.point("key 10", "cancel", 0); }]) {
    hand.point("key 10", "down", 224, { clientY: 334 });
    hand.point("key 10", "move", 284, { clientY: 334 });
    giveUp();
    expect([feed.allTried(), held.mock.calls.at(-1)]).toEqual([[], [false]]);
    hand.point("key 10", "move", 294, { clientY: 334 });
    hand.point("key 10", "up", 294);
  }
  await server.settled();
  expect(server.edits()).toEqual([]);
});

it("bends a handle to where it is dragged, as long and as steep, and never behind its key", async () => {
  hand.point("handle 10", "down", 234, { clientY: 334 });
  hand.point("handle 10", "move", 254, { clientY: 34 });
  hand.point("handle 10", "up", 254);
  await server.settled();
  expect(server.edits()).toEqual([{ do: "change keys", ...where, changes: [{ frame: 10, mode: "joined", right: { angle: 45, length: Math.hypot(3, 3) } }] }]);
  const bent = (what: Drag["what"], frame: number, value: number) => tangentTo({ what, key: keys[0] ?? ({} as Key), frame, value, moved: true });
  expect(bent("left", 8, 3).angle).toBeCloseTo(-45);
  for (const behind of [bent("right", 4, 2), bent("left", 14, 2)]) expect(Math.abs(behind.angle ?? 0)).toBeCloseTo(90, 0);
});
