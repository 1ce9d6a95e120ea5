import { describe, expect, it } from "vitest";

import type { DrivenView } from "../api/client";
import { pastedCells } from "./paste";

const set: DrivenView = {
  id: "d1",
  name: "lower",
  driver: "0",
  low: 0,
  high: 10,
  stops: [0, 2.5, 10],
  rows: ["s1", "s2"].map((row) => ({ row, part: "p1", channel: "rotation.z" })),
};

describe("a block from a spreadsheet", () => {
  it("is laid down from the cell on", () => {
    expect(pastedCells("1\t2\n3\t4\n", set, "s1", 2.5)).toEqual([
      { row: "s1", stop: 2.5, value: 1 },
      { row: "s1", stop: 10, value: 2 },
      { row: "s2", stop: 2.5, value: 3 },
      { row: "s2", stop: 10, value: 4 },
    ]);
  });

  it("takes degrees, commas and true minus signs", () => {
    expect(pastedCells("−61°\t0,5", set, "s1", 0).map(({ value }) => value)).toEqual([-61, 0.5]);
  });

  it("leaves out what is no number, empty, or beyond the sheet", () => {
    expect(pastedCells("a\t\t7\t8\r\n1\r\n2", set, "s1", 0)).toEqual([
      { row: "s1", stop: 10, value: 7 },
      { row: "s2", stop: 0, value: 1 },
    ]);
  });

  it("needs a cell of the sheet", () => {
    expect(pastedCells("1\t2", set, undefined, 0)).toEqual([]);
    expect(pastedCells("1\t2", set, "s1", 3)).toEqual([]);
  });
});
