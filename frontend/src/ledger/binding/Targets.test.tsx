// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView, StepView } from "../../api/client";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { useSamples } from "../../state/samples";
import { standIn } from "../../state/server.testing";
import { Targets } from "./Targets";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const step = { id: "s1", name: "follow" } as StepView;
const weight = "s1.weight.p2";
const block = { key: "k", frames: 3, width: 1, data: Float32Array.from([0, 0.5, 0.25]) };

beforeEach(() => {
  server = standIn();
  const curve = { before: "hold", after: "hold", keys: [{ frame: 0, value: 0 }, { frame: 1, value: 0.5 }] };
  const channel = { id: weight, name: "follow.weight of dock", unit: "", kind: "number", value: 1, default: 1, low: 0, high: 1, limits: [0, 1], locked: false, options: [], curve, on_layers: {} };
  const parts = { p1: { id: "p1", name: "boat", parent: null, steps: [], shape: {}, channels: [channel] }, p2: { id: "p2", name: "dock", parent: null, steps: [], shape: {}, channels: [] } } as unknown as Record<string, PartView>;
  useOpenScene.setState({ sceneId: 7, order: ["p1", "p2"], parts });
  useSamples.setState({ first: 0, blocks: { [`p1/${weight}/final`]: block, [`p1/${weight}/own`]: block } });
  usePlayer.setState({ frame: 2 });
  hand = page();
  hand.show(<Targets step={step} part="p1" targets={[{ part: "p2" }]} onChange={() => undefined} />);
});
afterEach(() => {
  hand.close();
  act(() => { usePlayer.setState({ frame: 0 }); useSamples.setState({ blocks: {} }); });
  closeScene();
  vi.unstubAllGlobals();
});

it("shows a keyed weight as it is on this frame, and steps from there", async () => {
  const label = "weight of follow.weight of dock";
  expect(hand.field(label).value).toBe("0.250");
  hand.enter(label);
  hand.press("ArrowUp");
  await server.settled();
  expect(server.edits()).toMatchObject([{ do: "set channels", frame: 2, values: [["p1", weight, 0.26]] }]);
});

it("keys a weight also where what is typed is the weight without keys", async () => {
  hand.fill("weight of follow.weight of dock", "1");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toMatchObject([{ do: "set channels", frame: 2, values: [["p1", weight, 1]] }]);
});

it("takes a target out, and never the last one", () => {
  let left: object[] = [];
  expect(hand.has("Take target 1 of follow out")).toBe(false);
  hand.show(<Targets step={step} part="p1" targets={[{ part: "p2" }, { part: null }]} onChange={(targets) => { left = targets; }} />);
  hand.click("Take target 1 of follow out");
  expect(left).toEqual([{ part: null }]);
});
