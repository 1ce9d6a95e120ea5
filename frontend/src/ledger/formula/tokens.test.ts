import { describe, expect, it } from "vitest";

import { dragStep, tokensOf } from "./tokens";

const text = "-1.5 * {part 3.channel 4@driven} + clamp(2e-3, .5, atan2(7, x10))";

describe("the text of a formula cut into tokens", () => {
  it("gives the whole text back", () => {
    expect(tokensOf(text).map((token) => token.text).join("")).toBe(text);
    expect(tokensOf("{broken + 1").map((token) => token.text).join("")).toBe("{broken + 1");
  });

  it("starts each token where it stands", () => {
    for (const token of tokensOf(text)) expect(text.slice(token.start)).toMatch(new RegExp(`^${escape(token.text)}`));
  });

  it("counts numbers outside names and braces, as the server does", () => {
    const numbers = tokensOf(text).filter(({ kind }) => kind === "number");
    expect(numbers.map((token) => token.text)).toEqual(["1.5", "2e-3", ".5", "7"]);
    expect(numbers.map(({ place }) => place)).toEqual([0, 1, 2, 3]);
  });

  it("tells references and names apart", () => {
    const kinds = (kind: string) => tokensOf(text).filter((token) => token.kind === kind).map((token) => token.text);
    expect(kinds("reference")).toEqual(["{part 3.channel 4@driven}"]);
    expect(kinds("name")).toEqual(["clamp", "atan2", "x10"]);
  });
});

describe("what a pixel of dragging adds", () => {
  it.each([[4, 0.01], [0.5, 0.001], [1200, 10], [-75, 0.1], [0, 0.01], [0.002, 0.00001]])("to %f is %f", (value, step) => {
    expect(dragStep(value)).toBeCloseTo(step, 12);
  });
});

function escape(plain: string) {
  return plain.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
}
