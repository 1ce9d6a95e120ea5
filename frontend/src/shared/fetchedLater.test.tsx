// @vitest-environment happy-dom
import { act, Component } from "react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { fetchedLater } from "./fetchedLater";
import { page } from "./page.testing";

let hand: ReturnType<typeof page>;
beforeEach(() => { hand = page(); });
afterEach(() => {
  hand.close();
  vi.restoreAllMocks();
});

const Hull = ({ name }: { name: string }) => <p>the hull of {name}</p>;
const there = () => act(async () => { await Promise.resolve(); });

class Boundary extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false };
  static getDerivedStateFromError() { return { failed: true }; }
  override render() { return this.state.failed ? "not sent" : this.props.children; }
}

it("stands for what is fetched once, and shows it at once from then on", async () => {
  const fetchIt = vi.fn(() => Promise.resolve(Hull));
  const Later = fetchedLater(fetchIt, "it comes");
  hand.show(<Later name="Ferry" />);
  expect(hand.said()).toContain("it comes");
  await there();
  expect(hand.said()).toContain("the hull of Ferry");
  hand.show(<><Later name="Ferry" /><Later key="other" name="Barge" /></>);
  expect(hand.said()).toContain("the hull of Barge");
  expect(fetchIt).toHaveBeenCalledOnce();
});

it("gives what was not sent to the boundary around it, and asks again when it is drawn again", async () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  const fetchIt = vi.fn(() => Promise.resolve(Hull)).mockImplementationOnce(() => Promise.reject(new Error("no answer")));
  const Later = fetchedLater(fetchIt);
  hand.show(<Boundary key="first"><Later name="Ferry" /></Boundary>);
  await there();
  expect(hand.said()).toContain("not sent");
  hand.show(<Boundary key="again"><Later name="Ferry" /></Boundary>);
  await there();
  expect(hand.said()).toContain("the hull of Ferry");
});

it("does nothing to a page that was left meanwhile", async () => {
  let send: ((shown: typeof Hull) => void) | undefined;
  const Later = fetchedLater(() => new Promise<typeof Hull>((done) => { send = done; }));
  hand.show(<Later name="Ferry" />);
  hand.show(<p>elsewhere</p>);
  await act(async () => { send?.(Hull); await Promise.resolve(); });
  expect(hand.said()).toContain("elsewhere");
  hand.show(<Later name="Ferry" />);
  expect(hand.said()).toContain("the hull of Ferry");
});
