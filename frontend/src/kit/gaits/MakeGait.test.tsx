// @vitest-environment happy-dom
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView } from "../../api/client";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { standIn } from "../../state/server.testing";
import { MakeGait } from "./MakeGait";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const names = { r: "root", h: "hips", d: "head", a: "left foot", b: "right foot" };
const parts = Object.fromEntries(Object.entries(names).map(([id, name]) => [id, { id, name, parent: id === "r" ? null : "r", side: name.split(" ")[0], channels: [], steps: [] } as unknown as PartView]));

beforeEach(() => {
  server = standIn();
  hand = page();
  useOpenScene.setState({ sceneId: 7, parts, order: Object.keys(parts) });
  useSelection.setState({ parts: ["a", "b", "r"] });
  hand.show(<MakeGait onMade={() => undefined} />);
});
afterEach(() => {
  hand.close();
  useSelection.setState({ parts: [] });
  closeScene();
  vi.unstubAllGlobals();
});

const made = async () => {
  hand.click("Make the gait");
  await server.settled();
  return server.edits()[0];
};

it("lets a head look ahead once it knows the hips", async () => {
  expect(hand.field("Head").disabled).toBe(true);
  hand.choose("Hips", "hips");
  hand.choose("Head", "head");
  expect(await made()).toMatchObject({ do: "make gait", part: "r", feet: [["a", 0], ["b", 0.5]], hips: "h", head: "d" });
});

it("leaves out what nobody chose", async () => {
  expect(await made()).toMatchObject({ hips: null, head: null, arms: [], ground: null });
});
