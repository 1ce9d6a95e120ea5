// @vitest-environment happy-dom
import { QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { DrivenView, PartView, SheetView } from "../api/client";
import { queryClient } from "../api/queryClient";
import { page } from "../shared/page.testing";
import { margin } from "../shared/scales";
import { closeScene, useOpenScene } from "../state/openScene";
import { feed } from "../state/samples";
import { standIn } from "../state/server.testing";
import { Mapping } from "./Mapping";

const key = (frame: number, value: number) => ({ frame, value, interpolation: "smooth", left: {}, right: {}, mode: "joined" });
const mapping = { keys: [key(0, 0), key(10, 1)], before: "hold", after: "hold" };
const settings = { kind: "driven keys", driven: "d1", channel: "lift", mode: "set", mapping };
const hull = { id: "p1", name: "hull", channels: [{ id: "lift", name: "lift", unit: "m" }], steps: [{ id: "s1", settings }] } as unknown as PartView;
const set = { id: "d1", name: "swing", driver: "{hull.swing}", low: 0, high: 10, stops: [0, 10], rows: [{ row: "s1", part: "p1", channel: "lift" }] } as unknown as DrivenView;
const sheet = (top: number) => ({ driven: "d1", inputs: [0, 5, 10], rows: [{ row: "s1", values: [0, top / 2, top] }], driver: [0], findings: [] }) as unknown as SheetView;

// Values from 0 to 1 with an eighth above and below, over the height of the plane.
const low = 190 - margin.bottom;
const pixels = (low - margin.top) / 1.24;
const yOf = (value: number) => low - (value + 0.12) * pixels;

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const stop = (value: string) => `stop 10, value ${value}`;

beforeEach(async () => {
  server = standIn();
  server.answer("sheet", sheet(1));
  useOpenScene.setState(({ header }) => ({ sceneId: 7, header: { ...header, driven: [set] }, order: ["p1"], parts: { p1: hull } }));
  hand = page();
  hand.show(<QueryClientProvider client={queryClient}><Mapping set={set} row="s1" part="p1" at={5} /></QueryClientProvider>);
  await server.settled();
});
afterEach(() => {
  hand.close();
  act(() => { feed.tryOut([]); });
  queryClient.clear();
  closeScene();
  vi.unstubAllGlobals();
});

it("moves a stop up and down, and stores its value where it is let go", async () => {
  hand.point(stop("1"), "down", 0, { clientY: yOf(1) });
  hand.point(stop("1"), "move", 200, { clientY: yOf(0.6) });
  expect(feed.allTried()).toEqual([{ do: "put cells", cells: [{ row: "s1", stop: 10, value: 0.6 }] }]);
  hand.point(stop("1"), "up", 200);
  await server.settled();
  expect(server.edits()).toEqual([{ do: "put cells", cells: [{ row: "s1", stop: 10, value: 0.6 }] }]);
});

it("stands still under a stop that is dragged beyond the others", async () => {
  hand.point(stop("1"), "down", 0, { clientY: yOf(1) });
  server.answer("sheet", sheet(1.1));
  hand.point(stop("1"), "move", 0, { clientY: yOf(1.1) });
  // What is tried comes back, and is drawn.
  await server.settled();
  hand.point(stop("1"), "move", 0, { clientY: yOf(1.1) });
  expect(feed.allTried()).toMatchObject([{ cells: [{ value: 1.1 }] }]);
});

it("leaves a stop alone on Esc, on a click and for another button", async () => {
  hand.point(stop("1"), "down", 0, { clientY: yOf(1) });
  hand.point(stop("1"), "move", 0, { clientY: yOf(0.5) });
  hand.press("Escape");
  hand.point(stop("1"), "down", 0, { clientY: yOf(1) });
  hand.point(stop("1"), "up", 0);
  hand.point(stop("1"), "down", 0, { button: 2 });
  hand.point(stop("1"), "move", 0, { clientY: yOf(0.5) });
  hand.point(stop("1"), "up", 0);
  await server.settled();
  expect([feed.allTried(), server.edits()]).toEqual([[], []]);
});
