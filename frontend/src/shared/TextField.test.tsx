// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it } from "vitest";

import { page } from "./page.testing";
import { TextField } from "./TextField";

let hand: ReturnType<typeof page>;
/** What was sent, and how each is answered. */
let sent: string[] = [];
let answers: ((stored: boolean) => void)[] = [];

const show = (value: string) => {
  hand.show(<TextField label="name" value={value} onCommit={(text) => { sent.push(text); return new Promise((done) => { answers.push(done); }); }} />);
};
const answer = (stored: boolean) => act(() => { answers.shift()?.(stored); return Promise.resolve(); });
const text = () => hand.field("name").value;
const typed = (words: string) => {
  hand.fill("name", words);
};

beforeEach(() => {
  [sent, answers] = [[], []];
  hand = page();
  show("arm");
});
afterEach(() => { hand.close(); });

it("sends what was typed once, on Enter or when it is left, and shows what became of it", async () => {
  typed("leg");
  hand.press("Enter");
  hand.leave();
  expect([sent, text()]).toEqual([["leg"], "leg"]);
  show("leg");
  await answer(true);
  expect(text()).toBe("leg");
  typed("wing");
  hand.leave();
  expect(sent).toEqual(["leg", "wing"]);
});

it("sends nothing on Esc, where nothing was typed, or the same again", () => {
  typed("leg");
  hand.press("Escape");
  expect(text()).toBe("arm");
  hand.enter("name");
  hand.leave();
  typed("leg");
  hand.type("arm");
  hand.press("Enter");
  expect([sent, text()]).toEqual([[], "arm"]);
});

it("keeps what was refused, to be mended or put back", async () => {
  typed("eye");
  hand.press("Enter");
  await answer(false);
  expect(text()).toBe("eye");
  typed("eyes");
  hand.press("Enter");
  await answer(false);
  hand.enter("name");
  hand.press("Escape");
  expect([sent, text()]).toEqual([["eye", "eyes"], "arm"]);
});

it.each([true, false])("leaves alone what is typed while the text before is under way (taken: %s)", async (stored) => {
  typed("leg");
  hand.press("Enter");
  typed("wing");
  await answer(stored);
  expect(text()).toBe("wing");
  hand.press("Enter");
  expect(sent).toEqual(["leg", "wing"]);
});
