// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView, SceneHeader } from "../api/client";
import { page } from "../shared/page.testing";
import { closeForm, openForm } from "../state/kit";
import { closeScene, useOpenScene } from "../state/openScene";
import { feed } from "../state/samples";
import { choosePart, chooseParts } from "../state/selection";
import { standIn } from "../state/server.testing";
import { KitForm } from "./KitForm";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const part = (id: string, parent: string | null, more: object = {}) => ({ id, name: id, parent, steps: [], channels: [], shape: {}, ...more }) as unknown as PartView;
const header = (more: object) => { act(() => { useOpenScene.setState((scene) => ({ header: { ...scene.header, ...more } as SceneHeader })); }); };
const over = (name: string, way: "over" | "out") => {
  const button = [...document.querySelectorAll("button")].find(({ textContent }) => textContent.startsWith(name));
  act(() => { button?.dispatchEvent(new MouseEvent(`mouse${way}`, { bubbles: true })); });
};

beforeEach(() => {
  server = standIn();
  hand = page();
  hand.show(<QueryClientProvider client={new QueryClient()}><KitForm /></QueryClientProvider>);
});
afterEach(() => {
  hand.close();
  act(() => { closeForm(); choosePart(null); feed.tryOut([]); });
  closeScene();
  vi.unstubAllGlobals();
});

it("sends a colour once, when the choice of it is closed", async () => {
  useOpenScene.setState({ sceneId: 7, parts: {} });
  header({ sets: [{ id: "g1", name: "deck", colour: "#C9A66B", parts: [], channels: [] }] });
  act(() => { openForm("sets", "g1"); });
  hand.enter("Colour of deck");
  for (const passed of ["#102030", "#405060", "#708090"]) hand.type(passed);
  await server.settled();
  expect([server.edits(), hand.field("Colour of deck").value]).toEqual([[], "#708090"]);
  act(() => { hand.field("Colour of deck").dispatchEvent(new Event("change", { bubbles: true })); });
  await server.settled();
  expect(server.edits()).toEqual([{ do: "put set", id: "g1", name: "deck", colour: "#708090", parts: [], channels: [] }]);
});

it("makes a limb whose channels are on a part of its own chain, whatever was chosen for another", async () => {
  const sides = ["left", "right"].flatMap((side) => [part(`${side} hip`, "pelvis"), part(`${side} knee`, `${side} hip`), part(`${side} ankle`, `${side} knee`)]);
  useOpenScene.setState({ sceneId: 7, parts: Object.fromEntries([part("pelvis", null), ...sides].map((one) => [one.id, one])) });
  act(() => { chooseParts(["left hip", "left ankle"]); openForm("limbs", null); });
  hand.choose("Part with the channels of the limb", "left knee");
  hand.click("Make the limb");
  act(() => { chooseParts(["right hip", "right ankle"]); });
  hand.click("Make the limb");
  await server.settled();
  expect(server.edits().map((made) => "part" in made && made.part)).toEqual(["left knee", "pelvis"]);
});

it("shows a fitted factor only for the scene that it was found for, and tries nothing behind a closed form", async () => {
  const settings = { kind: "formula", channel: "rotation.z", text: "2 * travelled({wheel})", mode: "add" };
  const wheel = part("wheel", null, { steps: [{ id: "s1", name: "turn", zone: "driven", on: true, settings, writes: [] }] });
  useOpenScene.setState({ sceneId: 7, order: ["wheel"], parts: { wheel } });
  header({ revision: 4, first: 0, last: 20, probes: [{ id: "b1", name: "rim", part: "wheel", point: [0, -1, 0], rolling: true, ground: null }] });
  server.answer("slip", { first: 0, amounts: [0, 1], points: [], vectors: [], sum: 1, worst: 1, worst_frame: 1, fit: { factor: 3, before: 1, after: 0, text: "3 * travelled({wheel})", exact: null, alike: 1, place: null, value: null, reasons: [] } });
  act(() => { openForm("slip probes", "b1"); });
  await server.settled();
  hand.click("Fit");
  await server.settled();
  over("Use", "over");
  expect(feed.allTried()).toMatchObject([{ do: "change step", step: "s1" }]);
  act(() => { closeForm(); });
  expect(feed.allTried()).toEqual([]);
  act(() => { openForm("slip probes", "b1"); });
  await server.settled();
  hand.click("Fit");
  await server.settled();
  expect(hand.said()).toContain("Use 3 * travelled");
  header({ revision: 5 });
  expect(hand.said()).not.toContain("Use 3 * travelled");
});
