import { describe, expect, it } from "vitest";

import { typed } from "./arithmetic";
import { inUnits, looked, lookOf, meant } from "./units";

const small = { id: "units", length: "cm", angle: "turns" } as const;

describe("units to look at numbers in", () => {
  it("turns metres and degrees into what the scene says, and back to the same number", () => {
    for (const [unit, shown] of [["m", 12.5], ["°", 0.125 / 360]] as const) {
      const look = lookOf(unit, small);
      expect(looked(0.125, look)).toBeCloseTo(shown, 12);
      for (const value of [0.1, -0.07, 1 / 3, 90, 1e-9, 1234.567]) {
        expect(meant(looked(value, look), look) / value).toBeCloseTo(1, 12);
      }
    }
    expect(meant(7, lookOf("m", small))).toBe(0.07);
    expect(meant(0.25, lookOf("°", small))).toBe(90);
  });
  it("leaves plain numbers and other units alone", () => {
    expect(lookOf("frames", small)).toMatchObject({ unit: "frames", times: 1, over: 1 });
    expect(looked(3, lookOf("", small))).toBe(3);
  });
  it("takes another unit that is typed behind a number", () => {
    const [length, angle] = [lookOf("m", small), lookOf("°", small)];
    const value = (text: string, look: typeof length) => typed(inUnits(text, look), 0);
    expect(value("2 m", length)).toBe(200);
    expect(value("1+1mm", length)).toBeCloseTo(0.2, 12);
    expect(value("7 cm", length)).toBe(7);
    expect(value("90°", angle)).toBe(0.25);
    expect(value("0.5 turns", angle)).toBe(0.5);
    expect(value("90 deg", angle)).toBe(0.25);
    // An angle in a field for lengths, or for plain numbers, is just its number, as any word is.
    expect(value("3 turns", length)).toBe(3);
    expect(value("3 turns", lookOf("", small))).toBe(3);
    expect(value("3 m", lookOf("frames", small))).toBe(3);
    // Its own unit may stand there, whatever a channel was given; a word that means nothing may not.
    expect([value("5 lm", lookOf("lm", small)), value("5 m/s", lookOf("m/s", small))]).toEqual([5, 5]);
    expect([value("5 lm", length), value("5x", lookOf("lm", small))]).toEqual([undefined, undefined]);
  });
  it("takes a change in another unit as a change", () => {
    const length = lookOf("m", small);
    const value = (text: string, relative: boolean) => typed(inUnits(text, length), 10, relative);
    expect(value("+=5 mm", false)).toBe(10.5);
    expect(value("-=1 m", false)).toBe(-90);
    expect(value("+5 mm", true)).toBe(10.5);
    expect(value("+5 mm", false)).toBe(0.5);
    expect(value("-5 mm", false)).toBe(-0.5);
    // A factor has no unit.
    expect(value("*=2 m", false)).toBe(20);
    expect(value("*2 m", true)).toBe(20);
  });
});
