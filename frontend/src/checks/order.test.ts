import { expect, test } from "vitest";

import type { FindingView } from "../state/checks";
import { nextFinding, rowsOf, saidAmount, wanted } from "./order";

const one = (id: string, part: string, severity: FindingView["severity"], frame: number | null): FindingView => ({
  id, part, severity, frame, check: "pop", channel: "translation.x", what: "", cause: "", text: "", amount: 1, unit: "mm", step: null, spans: [], accepted: null,
});

test("rows begin with the worst, then go by the tree; a row by severity and frame", () => {
  const rows = rowsOf([one("a", "tail", "untidy", 3), one("b", "foot", "doubtful", 9), one("c", "tail", "wrong", 7), one("d", "foot", "doubtful", 2), one("e", "neck", "doubtful", null)], ["neck", "foot", "tail"]);
  expect(rows.map(({ part }) => part)).toEqual(["tail", "neck", "foot"]);
  expect(rows.flatMap(({ findings }) => findings.map(({ id }) => id))).toEqual(["c", "a", "e", "d", "b"]);
  expect(nextFinding(rows, "a", 1)?.id).toBe("e");
  expect(nextFinding(rows, "b", 1)?.id).toBe("b");
  expect(nextFinding(rows, null, 1)?.id).toBe("c");
  expect(nextFinding(rows, "gone", -1)?.id).toBe("b");
  expect(nextFinding([], null, 1)).toBeUndefined();
});

test("amounts are short, without powers of ten", () => {
  expect(saidAmount(6912.3, "mm")).toBe("6912 mm");
  expect(saidAmount(0.012345, "m")).toBe("0.0123 m");
  expect(saidAmount(2.5, "° too near")).toBe("2.5° too near");
  expect(saidAmount(3, "")).toBe("3");
  expect(saidAmount(1, "keys")).toBe("1 key");
});

test("findings are left out by check, part, frames and severity; what concerns all frames is in each span", () => {
  const findings: FindingView[] = [
    { ...one("a", "tail", "untidy", 3), spans: [[3, 3], [40, 44]] },
    { ...one("b", "foot", "wrong", 20), check: "slide", spans: [[10, 30]] },
    one("c", "neck", "doubtful", null),
    { ...one("d", "tail", "wrong", 7), accepted: "r1", spans: [[7, 7]] },
  ];
  const all = { check: null, mine: false, span: null, hidden: [] };
  const left = (looking: Partial<Parameters<typeof wanted>[1]>) => wanted(findings, { ...all, ...looking }, ["tail", "neck"]).map(({ id }) => id).join("");
  expect(left({})).toBe("abc");
  expect([left({ check: "slide" }), left({ mine: true }), left({ hidden: ["untidy", "doubtful"] })]).toEqual(["b", "ac", "b"]);
  // The ends of a span belong to it.
  expect([left({ span: [30, 40] }), left({ span: [31, 39] }), left({ span: [4, 9] }), left({ span: [9.5, 10] })]).toEqual(["abc", "c", "c", "bc"]);
});
