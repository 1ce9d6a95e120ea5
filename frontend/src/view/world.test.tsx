// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it } from "vitest";

import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { useSamples } from "../state/samples";
import { matrixAt } from "./matrix";
import { isSeen, seenAt, seenName, useAllPlaced, worldAt, worldName } from "./world";

/** A part that moves one metre a frame along x, from the frame 10 on. */
const moving = { key: "k", frames: 3, width: 12, data: Float32Array.from([0, 1, 2].flatMap((x) => [1, 0, 0, x, 0, 2, 0, 5, 0, 0, 3, 6])) };

afterEach(() => { closeScene(); });
beforeEach(() => {
  usePlayer.setState({ frame: 11 });
  useSamples.setState({ blocks: {}, first: 10, last: 12 });
});

it("finds the place on the playhead's frame, on another, and the nearest outside the range", () => {
  const x = (frame?: number) => worldAt(moving, frame)?.[3];
  expect([x(), x(10), x(12), x(3), x(99)]).toEqual([1, 0, 2, 0, 2]);
  expect(worldAt(moving, 1, 0)?.[3]).toBe(1);
  expect(worldAt(undefined)).toBeNull();
  expect(worldAt({ ...moving, frames: 1 }, 12)?.[3]).toBe(0);
});

it("gives the drawing the rows as they are", () => {
  const matrix = matrixAt(moving, undefined, 12);
  expect(matrix?.elements).toEqual([1, 0, 0, 0, 0, 2, 0, 0, 0, 0, 3, 0, 2, 5, 6, 1]);
  expect(matrixAt(undefined)).toBeNull();
});

it("shows a part unless its numbers say that it is not seen", () => {
  const seen = { key: "s", frames: 3, width: 1, data: Float32Array.from([1, 0, 0.5]) };
  expect([9, 10, 11, 12, 99].map((frame) => seenAt(seen, frame, 10))).toEqual([true, true, false, true, true]);
  expect([seenAt({ ...seen, frames: 1 }, 11, 10), seenAt(undefined, 11, 10), isSeen("p")]).toEqual([true, true, true]);
  useSamples.setState({ blocks: { [seenName("p")]: seen } });
  expect(isSeen("p")).toBe(false);
});

it("waits for the places of all parts, and for none that is added later", () => {
  const hand = page();
  const Told = () => <p>{useAllPlaced() ? "all" : "some"}</p>;
  const come = (...parts: string[]) => { act(() => { useSamples.setState({ blocks: Object.fromEntries(parts.map((part) => [worldName(part), moving])) }); }); };
  useOpenScene.setState({ sceneId: 7, order: ["p1", "p2"], parts: {} });
  hand.show(<Told />);
  const seen = [hand.said()];
  come("p2");
  seen.push(hand.said());
  come("p1", "p2");
  seen.push(hand.said());
  act(() => { useOpenScene.setState({ order: ["p1", "p2", "p3"] }); });
  seen.push(hand.said());
  expect(seen).toEqual(["some", "some", "all", "all"]);
  hand.close();
});
