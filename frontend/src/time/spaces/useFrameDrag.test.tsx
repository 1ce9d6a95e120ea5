// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { OneEdit } from "../../api/client";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { feed } from "../../state/samples";
import { standIn } from "../../state/server.testing";
import { useFrameDrag } from "./useFrameDrag";

const onDrag = vi.fn<(by: number | null) => void>();
const onClick = vi.fn();
const moved = (by: number): OneEdit => ({ do: "move handover", step: "s1", frame: 10, to: 10 + by });

function Dot() {
  return <button aria-label="handover" {...useFrameDrag({ frameOf: (px) => px / 10, onDrag, edit: moved, onClick })} />;
}

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;

beforeEach(() => {
  server = standIn();
  useOpenScene.setState({ sceneId: 7 });
  hand = page();
  hand.show(<Dot />);
  onDrag.mockClear();
  onClick.mockClear();
});
afterEach(() => {
  hand.close();
  act(() => { feed.tryOut([]); });
  closeScene();
  vi.unstubAllGlobals();
});

it("goes where it is let go, though nothing was drawn since it was taken", async () => {
  act(() => {
    hand.point("handover", "down", 100);
    hand.point("handover", "move", 140);
    hand.point("handover", "up", 140);
  });
  await server.settled();
  expect([server.edits(), onClick.mock.calls.length]).toEqual([[moved(4)], 0]);
});

it("goes by whole frames, shows what that does, and stores it once", async () => {
  hand.point("handover", "down", 103);
  for (const x of [104, 107, 109, 131]) hand.point("handover", "move", x);
  expect(onDrag.mock.calls).toEqual([[0], [1], [3]]);
  expect(feed.allTried()).toEqual([moved(3)]);
  hand.point("handover", "up", 131);
  await server.settled();
  expect([server.edits(), onDrag.mock.calls.at(-1), onClick.mock.calls.length]).toEqual([[moved(3)], [null], 0]);
});

it("is a click where it comes back to its frame, or never left it", async () => {
  hand.point("handover", "down", 100);
  hand.point("handover", "move", 120);
  hand.point("handover", "move", 101);
  expect(feed.allTried()).toEqual([]);
  hand.point("handover", "up", 101);
  hand.point("handover", "down", 100);
  hand.point("handover", "up", 100);
  await server.settled();
  expect([onClick.mock.calls.length, server.edits()]).toEqual([2, []]);
});

it("is given up by Esc, by a pointer that is taken away, and is not begun by another button", async () => {
  hand.point("handover", "down", 100);
  hand.point("handover", "move", 150);
  hand.press("Escape");
  expect([feed.allTried(), onDrag.mock.calls.at(-1)]).toEqual([[], [null]]);
  hand.point("handover", "up", 150);
  hand.point("handover", "down", 100);
  hand.point("handover", "cancel", 100);
  hand.point("handover", "down", 100, { button: 2 });
  hand.point("handover", "move", 150);
  hand.point("handover", "up", 150);
  await server.settled();
  expect([server.edits(), onClick.mock.calls.length]).toEqual([[], 0]);
});
