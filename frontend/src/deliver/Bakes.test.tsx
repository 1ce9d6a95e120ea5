// @vitest-environment happy-dom
import { QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { BakeView, PartView } from "../api/client";
import { queryClient } from "../api/queryClient";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { usePopup } from "../state/popup";
import { standIn } from "../state/server.testing";
import { Bakes } from "./Bakes";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const shown = vi.fn<(what: unknown) => void>();
const bake = (more: object = {}) => ({ id: "k1", name: "out", first: 0, last: 40, by: "all parts", set: null, parts: [], own_channels: false, step: 1, tolerance: 0, follows: false, state: "fresh", leaving: ["p1"], keys: 1200, problem: null, places: null, frame: 0, ...more }) as unknown as BakeView;
const told = async (...bakes: BakeView[]) => {
  server.answer("bakes", { revision: 1, bakes });
  await act(async () => { await queryClient.invalidateQueries(); });
  await server.settled();
};
const type = (label: string, text: string) => {
  hand.fill(label, text);
  hand.press("Enter");
};

beforeEach(async () => {
  server = standIn();
  server.answer("bakes", { revision: 1, bakes: [] });
  useOpenScene.setState(({ header }) => ({ sceneId: 7, header: { ...header, first: 0, last: 60 }, order: ["p1"], parts: { p1: { id: "p1", name: "hull", role: "control", channels: [] } as unknown as PartView } }));
  hand = page();
  hand.show(<QueryClientProvider client={queryClient}><MemoryRouter><Bakes onShow={shown} /></MemoryRouter></QueryClientProvider>);
  await server.settled();
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); });
  hand.close();
  queryClient.clear();
  closeScene();
  vi.unstubAllGlobals();
});

it("bakes all parts where nothing is a joint, under a name that is free", async () => {
  expect(hand.said()).toContain("Nothing baked yet.");
  await told(bake(), bake({ id: "k2", name: "out 2" }));
  hand.click("Bake");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "put bake", name: "out 3", first: 0, last: 60, by: "all parts" }]);
});

it("keeps a change that is under way in the next one, and drops one that was refused", async () => {
  await told(bake());
  hand.click("What out holds");
  await server.settled();
  type("first frame of out", "10");
  type("last frame of out", "30");
  await server.settled();
  expect(server.edits()).toMatchObject([{ first: 10, last: 40 }, { first: 10, last: 30 }]);
  await told(bake({ first: 10, last: 30 }));
  server.refuse("a bake has two frames at least");
  type("last frame of out", "10");
  await server.settled();
  type("tolerance of out", "0.01");
  await server.settled();
  expect(server.edits().at(-1)).toMatchObject({ first: 10, last: 30, tolerance: 0.01 });
});

it("follows what others make of a bake", async () => {
  await told(bake());
  hand.click("What out holds");
  await server.settled();
  type("first frame of out", "10");
  await server.settled();
  await told(bake({ first: 20, last: 50 }));
  type("every … frames of out", "2");
  await server.settled();
  expect(server.edits().at(-1)).toMatchObject({ first: 20, last: 50, step: 2 });
});

it("says how far a bake is from its source, and takes that over, asked for again where something speaks against it", async () => {
  await told(bake({ state: "stale", places: 0.0123, frame: 12 }));
  expect(hand.said()).toContain("stale, up to 12.3 mm at 12");
  hand.click("Take over");
  await server.settled();
  await told(bake({ state: "asks", problem: "The part “hull” is gone." }));
  expect(hand.said()).toContain("The part “hull” is gone.");
  hand.click("Take over all the same");
  hand.click("Compare");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "take over", id: "k1", agreed: false }, { do: "take over", id: "k1", agreed: true }]);
  expect(shown).toHaveBeenLastCalledWith({ what: "bake", bake: "k1" });
});
