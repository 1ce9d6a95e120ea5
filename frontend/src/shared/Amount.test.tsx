// @vitest-environment happy-dom
import { act, useState } from "react";
import { afterEach, beforeEach, expect, it } from "vitest";

import { Amount, Apply } from "./Amount";
import { isNumber } from "./arithmetic";
import { page } from "./page.testing";

let hand: ReturnType<typeof page>;
let applied: string[] = [];

function Form() {
  const [text, setText] = useState("4");
  const apply = () => { applied.push(text); };
  return (
    <>
      <Amount label="count" value={text} onChange={setText} onEnter={apply} />
      <Apply good={isNumber(text)} title="as one edit" onClick={apply}>Insert</Apply>
    </>
  );
}

const button = () => document.querySelector("button");
const click = () => { act(() => { button()?.click(); }); };

beforeEach(() => {
  applied = [];
  hand = page();
  hand.show(<Form />);
  hand.enter("count");
});
afterEach(() => { hand.close(); });

it("applies numbers and arithmetic, by Enter and by the button", () => {
  hand.press("Enter");
  hand.type("2*3");
  click();
  expect([applied, hand.field("count").getAttribute("aria-invalid"), button()?.title]).toEqual([["4", "2*3"], "false", "as one edit"]);
});

it.each(["abc", "", "1/0", "4 frames?", "--"])("marks “%s”, says why, and applies nothing in its place", (text) => {
  hand.type(text);
  hand.press("Enter");
  click();
  expect(applied).toEqual([]);
  expect([hand.field("count").getAttribute("aria-invalid"), hand.field("count").title, button()?.disabled, button()?.title]).toEqual(["true", `${text ? `“${text}” is no number` : "There is no number here"}. Numbers and arithmetic such as 2*3 are read.`, true, "A number cannot be read"]);
  hand.type("5");
  hand.press("Enter");
  expect(applied).toEqual(["5"]);
});
