import { describe, expect, it } from "vitest";

import type { CardView, WireView } from "../state/order";
import { filtered, folded } from "./filter";

const card = (id: string, column: number): CardView => ({ id, part: id, column, ports: [], kind: "part" });
const wire = (from: string, to: string): WireView => ({
  source: `${from}/x`, target: `${to}/s`, source_card: from, target_card: to, tap: "final", zone: "bound", back: false, looped: false, text: "",
});
const whole = {
  cards: [card("a", 0), card("b", 1), card("c", 2), card("d", 3), card("e", 1)],
  wires: [wire("a", "b"), wire("b", "c"), wire("c", "d"), wire("a", "e")],
};
const ids = (picture: { cards: CardView[] }) => picture.cards.map(({ id }) => id).join("");

describe("the shown part of the wiring", () => {
  it("is what feeds a part, what it feeds, or both, as far as asked", () => {
    const choice = { part: "c", steps: null };
    expect(ids(filtered(whole, { ...choice, reach: "feeds" }))).toBe("abc");
    expect(ids(filtered(whole, { ...choice, reach: "fed by" }))).toBe("cd");
    expect(ids(filtered(whole, { ...choice, reach: "both" }))).toBe("abcd");
    expect(ids(filtered(whole, { ...choice, reach: "both", steps: 1 }))).toBe("bcd");
    expect(ids(filtered(whole, { ...choice, reach: "everything" }))).toBe("abcde");
  });

  it("draws a subtree as one card, and keeps the wires that leave it", () => {
    const parents = { a: null, b: "a", c: "b", d: null, e: null };
    const picture = folded(whole, parents, ["a"]);
    expect(picture.cards.map(({ id }) => id)).toEqual(["d", "e", "a/folded"]);
    expect(picture.wires.map(({ source_card, target_card }) => [source_card, target_card])).toEqual([
      ["a/folded", "d"],
      ["a/folded", "e"],
    ]);
    expect(picture.cards.at(-1)?.ports[0]?.label).toBe("3 parts inside");
  });
});
