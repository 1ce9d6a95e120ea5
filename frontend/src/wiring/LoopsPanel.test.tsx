// @vitest-environment happy-dom
import { QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView } from "../api/client";
import { queryClient } from "../api/queryClient";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { goTo, setRange, usePlayer } from "../state/player";
import { choosePart, useSelection } from "../state/selection";
import { standIn } from "../state/server.testing";
import { LoopsPanel } from "./LoopsPanel";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const remedy = (text: string, step: string, tap: string | null = null) => ({ text, tap, edits: [{ do: "change step", step, on: false }] });
const loop = (...remedies: object[]) => ({ parts: ["p1", "p2"], chain: ["hull.turn @final", "hull.turn · tie", "mast.turn @final"], why: ["The hull reads the mast."], held: "The mast is held.", frames: 3, first: 12, channels: [["p1", "turn"]], remedies });
const many = ["a", "b", "c", "d", "e", "f"].map((name) => remedy(`mute “${name}”`, name));
const told = async (...loops: object[]) => {
  server.answer("loops", { revision: 1, loops, pairs: [{ one: "p1", other: "p3", reason: "One reads where, the other how it turns." }] });
  await act(async () => { await queryClient.invalidateQueries(); });
  await server.settled();
};
const compared = () => server.questions("what-if").map(({ body }) => (body["other"] as { edits: { step: string }[] }).edits[0]?.step);

beforeEach(async () => {
  server = standIn();
  server.answer("what-if", { differences: [], loops: [1, 0], one_edits: [], other_edits: [] });
  const part = (id: string, name: string) => ({ id, name, channels: [], steps: [] }) as unknown as PartView;
  useOpenScene.setState({ sceneId: 7, order: ["p1", "p2", "p3"], parts: { p1: part("p1", "hull"), p2: part("p2", "mast"), p3: part("p3", "sail") } });
  setRange({ first: 0, last: 40, fps: 24 });
  goTo(0);
  server.answer("loops", { revision: 1, loops: [], pairs: [] });
  hand = page();
  hand.show(<QueryClientProvider client={queryClient}><LoopsPanel /></QueryClientProvider>);
  await server.settled();
});
afterEach(() => {
  hand.close();
  act(() => { choosePart(null); });
  setRange({ first: 0, last: 0, fps: 24 });
  queryClient.clear();
  closeScene();
  vi.unstubAllGlobals();
});

it("says that nothing feeds itself, or where it goes round, why, and what is held", async () => {
  expect([hand.said().includes("Nothing feeds itself."), hand.said().includes("No two parts read each other.")]).toEqual([true, true]);
  await told(loop(...many));
  for (const words of ["hull.turn ← mast.turn ← hull.turn", "The hull reads the mast.", "The mast is held.", "It makes a difference on 3 frames", "One reads where, the other how it turns."]) expect(hand.said()).toContain(words);
  hand.click("12");
  hand.click("mast");
  expect([usePlayer.getState().frame, useSelection.getState().part]).toEqual([12, "p2"]);
});

it("shows four remedies, and all of them when asked", async () => {
  await told(loop(...many));
  const shown = () => document.querySelectorAll("[role=listitem]").length;
  expect(shown()).toBe(4);
  hand.click("2 more");
  expect(shown()).toBe(6);
  hand.click("fewer");
  expect(shown()).toBe(4);
  await told(loop());
  expect(hand.said()).toContain("No single change breaks it");
});

it("compares a remedy as it is now, though an edit has changed what it would be", async () => {
  await told(loop(remedy("mute “tie”", "s1")));
  hand.click("1. mute “tie”");
  await server.settled();
  await told(loop(remedy("mute “tie”", "s9")));
  expect(compared().at(-1)).toBe("s9");
  expect(document.querySelectorAll("[aria-pressed=true]").length).toBe(1);
  hand.click("Apply: mute “tie”");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "change step", step: "s9", on: false }]);
  await told(loop(remedy("mute “other”", "s2")));
  expect(document.querySelectorAll("[aria-pressed=true]").length).toBe(0);
});
