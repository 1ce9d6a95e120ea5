import { expect, it, vi } from "vitest";

vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined });
const { example, rulesIn } = await import("./rules");

it("reads rules as they were saved, also those that leave out how they write", () => {
  const plain = { name: "a", pattern: "*", channel: "rotation.x", formula: "1" };
  expect(rulesIn(JSON.stringify([example, plain]))).toEqual([example, plain]);
  expect(rulesIn("[]")).toEqual([]);
});

it.each([
  ["rules", "it is not JSON."],
  ["", "it is not JSON."],
  ["{}", "it holds no list of rules."],
  ["null", "it holds no list of rules."],
  [JSON.stringify([example, 7]), "rule 2 is none."],
  [JSON.stringify([null]), "rule 1 is none."],
  [JSON.stringify([{ ...example, pattern: null }]), "rule 1 has no pattern."],
  [JSON.stringify([example, { name: "a" }]), "rule 2 has no pattern."],
  [JSON.stringify([{ ...example, mode: "weigh" }]), "rule 1 writes in a way that is not known: add, set or scale."],
])("says what is wrong with %s", (text, told) => {
  expect(rulesIn(text)).toBe(told);
});
