import { expect, test } from "vitest";

import type { FindingView } from "../state/checks";
import { nextFinding, rowsOf, saidAmount } from "./order";

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
