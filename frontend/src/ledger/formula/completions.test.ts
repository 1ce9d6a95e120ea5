import { describe, expect, it } from "vitest";

import type { PartView } from "../../api/client";
import { completionsAt } from "./completions";

function part(name: string, channels: [string, string][]): PartView {
  return { name, channels: channels.map(([id, channel]) => ({ id, name: channel })) } as unknown as PartView;
}

const parts = [
  part("ferry", [["translation.x", "translation.x"], ["c3", "landing"]]),
  part("paddle", [["rotation.z", "rotation.z"], ["c1", "radius"], ["c2", "bite depth"]]),
  part("rope drum", [["rotation.z", "rotation.z"]]),
];

function taken(text: string, n = 0): string {
  const offer = completionsAt(text, text.length, parts)[n];
  return offer ? text.slice(0, offer.from) + offer.text : text;
}

describe("completions of a formula", () => {
  it("offers parts inside braces, also by a word in the middle of the name", () => {
    expect(taken("2 * {pad")).toBe("2 * {paddle");
    expect(taken("2 * {drum")).toBe("2 * {rope drum");
  });

  it("offers a part's own channels first, and closes the brace", () => {
    expect(completionsAt("{paddle.", 8, parts).map(({ hint }) => hint)).toEqual(["paddle.radius", "paddle.bite depth", "paddle.rotation.z"]);
    expect(taken("{paddle.rot")).toBe("{paddle.rotation.z}");
    expect(taken("{ferry.LAND")).toBe("{ferry.landing}");
  });

  it("offers taps behind the sign for them", () => {
    expect(taken("{paddle.rotation.z@dr")).toBe("{paddle.rotation.z@driven}");
    expect(completionsAt("{paddle.rotation.z@", 19, parts)).toHaveLength(6);
  });

  it("offers functions outside braces and opens their parenthesis", () => {
    expect(taken("1 + smo")).toBe("1 + smoothstep(");
    expect(taken("travelled_")).toBe("travelled_x(");
    expect(taken("2 * fram")).toBe("2 * frame");
  });

  it("offers nothing where nothing fits, nor behind a closed brace", () => {
    expect(completionsAt("{ferry.landing} + ", 18, parts)).toEqual([]);
    expect(completionsAt("{nowhere.x", 10, parts)).toEqual([]);
    expect(completionsAt("3 + 4", 5, parts)).toEqual([]);
  });
});
