// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView, StepView } from "../../api/client";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { standIn } from "../../state/server.testing";
import { FollowFields, PathFields, SpaceFields } from "./OtherFields";
import type { FollowSettings, PathSettings, SpaceSettings } from "./settings";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const part = (id: string) => ({ id, name: id, parent: null, steps: [], channels: [], shape: {} }) as unknown as PartView;
const step = { id: "s1", name: "way" } as StepView;
const stored = () => server.edits().map((edit) => (edit as { settings: object }).settings);
const tick = async (word: string) => {
  act(() => { [...document.querySelectorAll("label")].find(({ textContent }) => textContent === word)?.click(); });
  await server.settled();
};

beforeEach(() => {
  server = standIn();
  useOpenScene.setState({ sceneId: 7, order: ["boat", "buoy", "post"], parts: { boat: part("boat"), buoy: part("buoy"), post: part("post") } });
  hand = page();
});
afterEach(() => {
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("takes points out of a path as long as two are left, and looks along it or not", async () => {
  const settings: PathSettings = { kind: "path", points: [{ part: "buoy" }, { part: "post" }, { part: null }] };
  hand.show(<PathFields step={step} part="boat" settings={settings} />);
  hand.click("Take point 1 of way out");
  await tick("along it, by");
  expect(stored()).toMatchObject([{ points: [{ part: "post" }, { part: null }] }, { along: false }]);
  hand.show(<PathFields step={step} part="boat" settings={{ ...settings, points: settings.points.slice(1) }} />);
  expect(hand.has("Take point 1 of way out")).toBe(false);
});

it("takes spaces out of the list and offers those that are not in it", async () => {
  const settings: SpaceSettings = { kind: "space", spaces: ["0", "buoy", "post"] };
  hand.show(<SpaceFields step={step} part="boat" settings={settings} />);
  hand.click("Take buoy out of way");
  await server.settled();
  hand.choose("Add a space to way", "parent");
  await server.settled();
  expect(stored()).toMatchObject([{ spaces: ["0", "post"] }, { spaces: ["0", "buoy", "post", ""] }]);
});

it("takes a share of one group more or less, and never of none", async () => {
  const settings: FollowSettings = { kind: "follow" };
  hand.show(<FollowFields step={step} settings={settings} />);
  await tick("rotation");
  await tick("position");
  expect(stored()).toMatchObject([{ takes: ["translation", "rotation"] }]);
});
