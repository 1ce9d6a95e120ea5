import { describe, expect, it } from "vitest";

import { notRead, typed } from "./arithmetic";

describe("what is typed into a number field", () => {
  it.each([
    ["3", 3],
    ["-3.5", -3.5],
    ["−3", -3],
    ["1,5", 1.5],
    ["0,125", 0.125],
    ["1,0000", 1],
    ["1234,567", 1234.567],
    ["12 frames", 12],
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

  it.each(["", "abc", "12x", "2 apples", "1,000", "-12,500", "+=1,000", "2*1,000", "1,000 m", "1,000,000", "2*", "(1", "1)", "1/0", "2**3", "1 2x3", "=5", "alert(1)", "--", "0/0"])(
    "%s is no number",
    (text) => {
      expect(typed(text, 10)).toBeUndefined();
    },
  );
});

it("says why it reads nothing", () => {
  expect(notRead("12x")).toBe("“12x” is no number");
  expect(notRead("1,000")).toBe("“1,000” can mean 1000 or 1.000: write one of them");
  expect(notRead("−12,500 m")).toBe("“−12,500 m” can mean −12500 m or −12.500 m: write one of them");
});
