// @vitest-environment happy-dom
import { scaleLinear } from "d3-scale";
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { Curve } from "../../api/client";
import { page } from "../../shared/page.testing";
import { useKeyState } from "../../state/keying";
import { closeScene, useOpenScene } from "../../state/openScene";
import { setRange, usePlayer } from "../../state/player";
import { feed, useSamples } from "../../state/samples";
import { chooseKeys, choosePart, useSelection } from "../../state/selection";
import { standIn } from "../../state/server.testing";
import type { LaneLine } from "./rows";
import { laneHeight, nameWidth, useLaneDrag } from "./useLaneDrag";

const curve = (...frames: number[]) => ({ keys: frames.map((frame) => ({ frame, value: 0 })) }) as Curve;
const row = (part: string, channel: string, ...frames: number[]) => ({ part, channel, name: `${part}.${channel}`, short: channel, curve: curve(...frames) });
const lines: LaneLine[] = [{ head: "hull", part: "p1" }, row("p1", "size", 10, 20, 30), row("p1", "l1:size", 12), row("p2", "size", 20)];
// Ten pixels are a frame; the lanes begin where their names end.
const x = scaleLinear([0, 100], [nameWidth, nameWidth + 1000]);

function Lanes() {
  const { handlers, drawn } = useLaneDrag(lines, x);
  return <svg aria-label="lanes" {...handlers}>{drawn}</svg>;
}

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const at = (frame: number, line: number, held: PointerEventInit = {}) => [frame * 10, { clientY: (line + 0.5) * laneHeight, ...held }] as const;
const drag = (from: readonly [number, PointerEventInit], to: readonly [number, PointerEventInit]) => {
  hand.point("lanes", "down", ...from);
  hand.point("lanes", "move", ...to);
};
const chosen = () => useSelection.getState().keys.map(({ part, channel, frames }) => `${part}.${channel} ${frames.join(" ")}`);

beforeEach(() => {
  server = standIn();
  useOpenScene.setState(({ header }) => ({ sceneId: 7, header: { ...header, layers: [{ id: "l1", name: "flow", part: "p1", mode: "add" }] } }) as never);
  setRange({ first: 0, last: 100, fps: 24 });
  hand = page();
  hand.show(<Lanes />);
});
afterEach(() => {
  hand.close();
  act(() => { choosePart(null); chooseKeys([]); feed.tryOut([]); useKeyState.setState({ layer: null }); });
  setRange({ first: 0, last: 0, fps: 24 });
  closeScene();
  vi.unstubAllGlobals();
});

it("chooses a key with its channel, its layer and its frame", () => {
  hand.point("lanes", "down", ...at(12, 2));
  hand.point("lanes", "up", ...at(12, 2));
  expect([chosen(), useSelection.getState().channel, useKeyState.getState().layer, usePlayer.getState().frame]).toEqual([["p1.l1:size 12"], "size", "l1", 12]);
  hand.point("lanes", "down", ...at(20, 3, { shiftKey: true }));
  expect(chosen()).toEqual(["p1.l1:size 12", "p2.size 20"]);
});

it("chooses one of several that are chosen by a click on it", () => {
  act(() => { chooseKeys([{ part: "p1", channel: "size", frames: [10, 20] }]); });
  hand.point("lanes", "down", ...at(20, 1));
  hand.point("lanes", "up", ...at(20, 1));
  expect([chosen(), usePlayer.getState().frame]).toEqual([["p1.size 20"], 20]);
});

it("chooses what a box holds, from any corner, and adds to it with Shift", () => {
  drag(at(35, 1), at(15, 0));
  hand.point("lanes", "up", ...at(15, 0));
  expect(chosen()).toEqual(["p1.size 20 30"]);
  drag(at(0, 2, { shiftKey: true }), at(25, 3));
  hand.point("lanes", "up", ...at(25, 3));
  expect(chosen()).toEqual(["p1.size 20 30", "p1.l1:size 12", "p2.size 20"]);
  hand.point("lanes", "down", ...at(60, 0));
  hand.point("lanes", "up", ...at(60, 0));
  expect(chosen()).toEqual([]);
});

it("moves chosen keys of several lanes by whole frames, or copies them with Ctrl", async () => {
  act(() => { chooseKeys([{ part: "p1", channel: "size", frames: [20] }, { part: "p2", channel: "size", frames: [20] }]); });
  const picks = useSelection.getState().keys;
  drag(at(20, 3), at(22.6, 3));
  expect(feed.allTried()).toEqual([{ do: "move keys", picks, frames: 3, copy: false }]);
  hand.point("lanes", "up", ...at(22.6, 3));
  expect(chosen()).toEqual(["p1.size 23", "p2.size 23"]);
  await server.settled();
  expect(server.edits()).toEqual([{ do: "move keys", picks, frames: 3, copy: false }]);
  act(() => { chooseKeys([]); });
  drag(at(10, 1, { ctrlKey: true }), at(5, 1, { ctrlKey: true }));
  hand.point("lanes", "up", ...at(5, 1));
  await server.settled();
  expect(server.edits().at(-1)).toMatchObject({ frames: -5, copy: true });
});

it("stores where keys are let go, and chooses what a box holds, though nothing was drawn since they were taken", async () => {
  act(() => {
    drag(at(10, 1), at(14, 1));
    hand.point("lanes", "up", ...at(14, 1));
  });
  await server.settled();
  expect(server.edits()).toMatchObject([{ do: "move keys", frames: 4 }]);
  act(() => {
    drag(at(35, 1), at(15, 0));
    hand.point("lanes", "up", ...at(15, 0));
  });
  expect(chosen()).toEqual(["p1.size 20 30"]);
});

it("tries nothing any more where keys are brought back, given up or refused", async () => {
  drag(at(10, 1), at(15, 1));
  hand.point("lanes", "move", ...at(10, 1));
  hand.point("lanes", "up", ...at(10, 1));
  expect([feed.allTried(), useSamples.getState().trying]).toEqual([[], false]);
  drag(at(10, 1), at(15, 1));
  hand.press("Escape");
  hand.point("lanes", "up", ...at(15, 1));
  expect([feed.allTried(), chosen()]).toEqual([[], ["p1.size 10"]]);
  server.refuse("it is locked");
  drag(at(10, 1), at(15, 1));
  hand.point("lanes", "up", ...at(15, 1));
  await server.settled();
  expect([feed.allTried(), chosen(), server.edits().length]).toEqual([[], ["p1.size 10"], 1]);
});
