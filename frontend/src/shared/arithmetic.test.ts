import { describe, expect, it } from "vitest";

import { typed } from "./arithmetic";

describe("what is typed into a number field", () => {
  it.each([
    ["3", 3],
    ["-3.5", -3.5],
    ["−3", -3],
    ["1,5", 1.5],
    [".5", 0.5],
    ["1e3", 1000],
    ["45°", 45],
    ["2 m", 2],
    ["2*3+1", 7],
    ["2+3*4", 14],
    ["(1+2)/4", 0.75],
    ["-(2-5)", 3],
    ["2--3", 5],
    ["10-3-2", 5],
    ["+=5", 15],
    ["-=5", 5],
    ["*=2", 20],
    ["/=4", 2.5],
    ["+=2*3", 16],
  ])("%s is %d", (text, value) => {
    expect(typed(text, 10)).toBeCloseTo(value, 12);
  });

  it.each(["", "abc", "2*", "(1", "1)", "1/0", "2**3", "1 2x3", "=5", "alert(1)", "--", "0/0"])(
    "%s is no number",
    (text) => {
      expect(typed(text, 10)).toBeUndefined();
    },
  );
});
