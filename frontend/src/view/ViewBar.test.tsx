// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { SceneHeader } from "../api/client";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { usePopup } from "../state/popup";
import { choosePart } from "../state/selection";
import { standIn } from "../state/server.testing";
import { useShowing } from "../state/showing";
import { ViewBar } from "./ViewBar";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const usual = useShowing.getState();
const open = async (tool: "move" | "turn" | "scale") => {
  act(() => { useShowing.setState({ tool, axes: "world" }); });
  hand.click("by…");
  await server.settled();
};

beforeEach(() => {
  server = standIn();
  useOpenScene.setState(({ header }) => ({ sceneId: 7, header: { ...header, units: { length: "cm" } } as SceneHeader }));
  act(() => { choosePart("p1"); });
  hand = page();
  hand.show(<ViewBar boxing={false} onBox={() => undefined} small={false} />);
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); choosePart(null); });
  useShowing.setState(usual, true);
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("moves by typed amounts in the unit that is looked at, along the chosen axes; nothing typed is nothing", async () => {
  await open("move");
  hand.fill("move along x", "25");
  hand.fill("move along y", "");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toMatchObject([{ do: "place part", parts: ["p1"], axes: "world", move: [0.25, 0, 0] }]);
  expect(usePopup.getState().open).toBeNull();
});

it("scales by one where nothing is typed", async () => {
  await open("scale");
  hand.fill("scale along z", "2");
  hand.click("Apply");
  await server.settled();
  expect(server.edits()).toMatchObject([{ size: [1, 1, 2] }]);
});

it("keeps what was typed where it is refused, and waits for numbers", async () => {
  await open("turn");
  hand.fill("turn along x", "a bit");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toEqual([]);
  hand.fill("turn along x", "90/2");
  server.refuse("the part is locked");
  hand.press("Enter");
  await server.settled();
  expect([hand.field("turn along x").value, hand.said().includes("the part is locked")]).toEqual(["90/2", true]);
  hand.press("Enter");
  await server.settled();
  expect([server.edits().length, usePopup.getState().open]).toEqual([2, null]);
});
