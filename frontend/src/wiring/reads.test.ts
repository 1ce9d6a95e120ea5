import { beforeEach, expect, test } from "vitest";

import type { PartView } from "../api/client";
import type { WireView } from "../state/order";
import { useOpenScene } from "../state/openScene";
import { connectEdit, isFolded, isOfSurface, isSolution, rereadEdit, wireNow } from "./reads";

const part = (id: string, name: string, steps: object[] = []) =>
  ({ id, name, steps, channels: [{ id: "translation.x", name: "translation.x" }] }) as unknown as PartView;

const formula = (text: string) => ({ kind: "formula", channel: "translation.x", text, mode: "set" });

beforeEach(() => {
  const boat = part("p1", "boat", [
    { id: "s1", name: "tie", settings: formula("0") },
    { id: "s2", name: "tied", settings: { kind: "position", read: {}, targets: [{ part: "p2" }] } },
    { id: "s3", name: "look", settings: { kind: "aim", targets: [] } },
    { id: "s4", name: "cap", settings: { kind: "limit", channel: "translation.x" } },
    { id: "s5", name: "sum", settings: formula("2") },
  ]);
  useOpenScene.setState({ parts: { p1: boat, p2: part("p2", "buoy"), p3: part("p3", "post") } });
});

test("a wire to a constraint or an aim makes a target, each part once", () => {
  expect(connectEdit("p3/world position@final", "p1/s2")).toMatchObject({ step: "s2", settings: { targets: [{ part: "p2" }, { part: "p3" }] } });
  expect(connectEdit("p3/world position@final", "p1/s3")).toMatchObject({ step: "s3", settings: { targets: [{ part: "p3" }] } });
  expect(connectEdit("p2/world position@final", "p1/s2")).toBeNull();
});

test("a wire to a formula adds what it reads, at its tap", () => {
  const text = (source: string, target: string) => connectEdit(source, target);
  expect(text("p2/translation.x@driven", "p1/s1")).toMatchObject({ settings: { text: "{buoy.translation.x@driven}" } });
  expect(text("p2/translation.x@final", "p1/s5")).toMatchObject({ settings: { text: "2 + {buoy.translation.x}" } });
  expect(text("p2/world matrix@final", "p1/s5")).toMatchObject({ settings: { text: "2 + world_x({buoy})" } });
  expect(text("p2/speed@final", "p1/s5")).toMatchObject({ settings: { text: "2 + speed({buoy})" } });
});

test("what reads nothing takes no wire", () => {
  expect(connectEdit("p2/translation.x@final", "p1/s4")).toBeNull();
  expect(connectEdit("p2/translation.x@final", "p1/s9")).toBeNull();
});

test("a read is taken at another tap by what its wire says", () => {
  const wire = { source: "p2/world position@final", target: "p1/s2", tap: "final", back: false } as WireView;
  expect(rereadEdit(wire, "driven", true)).toEqual({ do: "reread", step: "s2", part: "p2", quantity: "world position", tap: "final", back: false, to: "driven", to_back: true });
});

test("what limbs solve and surfaces read is always read as it is", () => {
  const wire = (source: string, target_card: string) => ({ source, target_card }) as WireView;
  expect(isSolution(wire("p1/solve@owner b1", "p2"))).toBe(true);
  expect(isOfSurface(wire("p1/world matrix@final", "surface f1"))).toBe(true);
  expect([isSolution, isOfSurface].map((is) => is(wire("p1/world matrix@final", "p2")))).toEqual([false, false]);
});

test("a chosen read is followed as it changes, until it is gone", () => {
  const wire = (tap: string, back: boolean, looped = false) => ({ source: "p2/turn@final", target: "p1/s1", tap, back, looped }) as WireView;
  const chosen = wire("final", false);
  expect(wireNow([wire("final", true), wire("driven", false), wire("final", false, true)], chosen)?.looped).toBe(true);
  expect([wireNow([wire("final", true)], chosen), wireNow([chosen], null)]).toEqual([undefined, undefined]);
});

test("reads of folded parts stand for several, and are not changed", () => {
  const wire = (source: string, target: string) => ({ source, target }) as WireView;
  expect([["p1/folded", "p2/s1"], ["p1/turn@final", "p2/folded"], ["p1/turn@final", "p2/s1"]].map(([a = "", b = ""]) => isFolded(wire(a, b)))).toEqual([true, true, false]);
});
