// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView, SceneHeader } from "../../api/client";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { chooseKeys, useSelection } from "../../state/selection";
import { standIn } from "../../state/server.testing";
import { SeveralKeys } from "./SeveralKeys";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const channel = (id: string, unit: string) => ({ id, name: id, unit, on_layers: {} });
const picks = (...frames: number[]) => [{ part: "p1", channel: "lift", frames }, { part: "p1", channel: "sway", frames: [30] }];
const frames = "Frames of the keys";
const values = "Values of the keys";
const enter = async (label: string, text: string) => {
  hand.fill(label, text);
  hand.press("Enter");
  await server.settled();
};

beforeEach(() => {
  server = standIn();
  const parts = { p1: { id: "p1", name: "hull", channels: [channel("lift", "m"), channel("sway", "m"), channel("turn", "°")] } as unknown as PartView };
  useOpenScene.setState(({ header }) => ({ sceneId: 7, parts, header: { ...header, units: { length: "cm" } } as SceneHeader }));
  hand = page();
  hand.show(<SeveralKeys picks={picks(10, 20)} count={3} />);
});
afterEach(() => {
  hand.close();
  act(() => { chooseKeys([]); });
  closeScene();
  vi.unstubAllGlobals();
});

it("moves keys by so many frames, or the first of them to one, and goes on with them", async () => {
  await enter(frames, "+5");
  await enter(frames, "-=2");
  await enter(frames, "40");
  expect(server.edits().map((edit) => "frames" in edit && edit.frames)).toEqual([5, -2, 30]);
  expect(useSelection.getState().keys.map((pick) => pick.frames)).toEqual([[40, 50], [60]]);
});

it("scales frames about the first one, and values about nothing; a plain value brings all there", async () => {
  await enter(frames, "*2");
  await enter(frames, "/4");
  await enter(values, "*3");
  await enter(values, "/2");
  expect(server.edits()).toMatchObject([
    { do: "scale time", about: 10, factor: 2 },
    { do: "scale time", about: 10, factor: 0.25 },
    { do: "scale values", about: "value", value: 0, factor: 3 },
    { do: "scale values", about: "value", value: 0, factor: 0.5 },
  ]);
});

it("takes values in the unit that the scene is looked at, and keeps metres", async () => {
  await enter(values, "250");
  await enter(values, "+10");
  expect(server.edits()).toMatchObject([{ do: "scale values", factor: 0, value: 2.5 }, { do: "move keys", value: 0.1 }]);
  hand.show(<SeveralKeys picks={[...picks(10), { part: "p1", channel: "turn", frames: [4] }]} count={3} />);
  await enter(values, "250");
  expect(server.edits().at(-1)).toMatchObject({ value: 250 });
});

it("marks what is no number, and what nothing can be divided by, and sends nothing", async () => {
  for (const text of ["about 5", "+", "*", "/0", "/(2-2)"]) {
    for (const label of [frames, values]) {
      await enter(label, text);
      expect([text, hand.field(label).value, hand.field(label).getAttribute("aria-invalid")]).toEqual([text, text, "true"]);
    }
  }
  expect(server.edits()).toEqual([]);
});

it("gives the keyboard back on Enter and Esc, and sends what was typed when it is left, but not on Esc", async () => {
  await enter(frames, "+5");
  expect(document.activeElement).toBe(document.body);
  hand.fill(values, "4");
  hand.press("Escape");
  expect([document.activeElement, hand.field(values).value]).toEqual([document.body, ""]);
  hand.fill(values, "about 5");
  hand.leave();
  hand.fill(values, "7");
  hand.leave();
  await server.settled();
  expect(server.edits()).toMatchObject([{ do: "move keys", frames: 5 }, { do: "scale values", factor: 0, value: 0.07 }]);
});

it("keeps the keys chosen where a change is refused", async () => {
  act(() => { chooseKeys(picks(10, 20)); });
  server.refuse("a key stands there already");
  await enter(frames, "+5");
  expect(useSelection.getState().keys[0]?.frames).toEqual([10, 20]);
});
