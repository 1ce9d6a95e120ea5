// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { DrivenView, PartView, SceneHeader } from "../api/client";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { usePopup } from "../state/popup";
import { chooseDriven, usePosing } from "../state/posing";
import { chooseChannel, choosePart, chooseParts } from "../state/selection";
import { standIn } from "../state/server.testing";
import { AddRows } from "./AddRows";
import { SetList } from "./SetList";
import { StopsTable } from "./StopsTable";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const channel = (id: string, more: object = {}) => ({ id, name: id, unit: "m", locked: false, low: null, high: null, curve: null, on_layers: {}, ...more });
const row = (id: string, on: string) => ({ id, name: id, on: true, settings: { kind: "driven keys", driven: "d1", channel: on, mode: "add", mapping: { keys: [0, 5, 10].map((frame) => ({ frame, value: 1 })) } } });
const hull = { id: "p1", name: "hull", channels: [channel("lift", { low: 2 }), channel("sway"), channel("rotation.x"), channel("rotation.y")], steps: [row("s1", "lift"), row("s2", "sway")] };
const swing = { id: "d1", name: "swing", driver: "{hull.lift}", low: 0, high: 10, stops: [0, 5, 10], rows: [{ row: "s1", part: "p1", channel: "lift" }, { row: "s2", part: "p1", channel: "sway" }] } as DrivenView;
const set = (more: object = {}) => ({ ...swing, ...more }) as DrivenView;

beforeEach(() => {
  server = standIn();
  useOpenScene.setState(({ header }) => ({ sceneId: 7, order: ["p1"], parts: { p1: hull as unknown as PartView }, header: { ...header, units: { length: "cm" }, driven: [swing] } as SceneHeader }));
  hand = page();
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); choosePart(null); chooseDriven(null); });
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("makes a set on the chosen channel, over its limits where it has both ends or one", async () => {
  act(() => { chooseChannel("p1", "lift"); });
  hand.show(<SetList sets={[swing]} chosen="d1" />);
  hand.click("Add driven keys");
  expect([hand.field("Driver of the new set").value, hand.said().includes("Stops at 2 and 3")]).toEqual(["{hull.lift}", true]);
  hand.enter("Name of the set");
  hand.press("Enter");
  hand.type("tilt");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "add driven keys", name: "tilt", driver: "{hull.lift}", low: 2, high: 3, stops: [2, 3] }]);
});

it("lays a copied block down from a cell on, in the units that are looked at, as one edit", async () => {
  hand.show(<StopsTable set={set()} sheet={undefined} at={0} chosen={null} onChoose={() => undefined} />);
  const paste = (text: string) => {
    const event = new Event("paste", { bubbles: true, cancelable: true });
    Object.assign(event, { clipboardData: { getData: () => text } });
    act(() => { hand.field("hull.lift at 5").dispatchEvent(event); });
    return event.defaultPrevented;
  };
  expect(paste("250\t−50\nx\t12,5\t9")).toBe(true);
  await server.settled();
  expect(server.edits()).toEqual([{ do: "put cells", cells: [{ row: "s1", stop: 5, value: 2.5 }, { row: "s1", stop: 10, value: -0.5 }, { row: "s2", stop: 10, value: 0.125 }] }]);
  // A single number is typed where the keyboard is.
  expect(paste("250")).toBe(false);
});

it("poses a stop by its head, and moves, scales and deletes it from its menu", async () => {
  act(() => { chooseDriven("d1"); });
  hand.show(<StopsTable set={set()} sheet={undefined} at={0} chosen={null} onChoose={() => undefined} />);
  hand.click("at 5");
  expect(usePosing.getState()).toMatchObject({ at: 5, stop: 5 });
  for (const [field, text] of [["Move the stop to", "6"], ["Scale the stop by", "1/2"]] as const) {
    hand.click("Change the stop 5");
    await server.settled();
    hand.fill(field, text);
    hand.press("Enter");
    await server.settled();
    expect(usePopup.getState().open).toBeNull();
  }
  hand.click("Change the stop 5");
  await server.settled();
  hand.click("Delete the stop");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "put stop", driven: "d1", stop: 6, old: 5 }, { do: "scale stop", driven: "d1", stop: 5, factor: 0.5 }, { do: "remove stop", driven: "d1", stop: 5 }]);
});

it("adds rows for groups of the chosen parts, without those that are there", async () => {
  act(() => { chooseParts(["p1"]); });
  hand.show(<AddRows set={set({ rows: [{ row: "s1", part: "p1", channel: "rotation.x" }] })} />);
  hand.click("+ rotation");
  hand.click("+ own channels");
  hand.click("Add 3 rows");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "add rows", driven: "d1", channels: [["p1", "rotation.y"], ["p1", "lift"], ["p1", "sway"]] }]);
});
