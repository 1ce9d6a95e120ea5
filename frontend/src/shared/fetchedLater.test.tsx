// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { AGAIN } from "../api/queryClient";
import { fetchedLater } from "./fetchedLater";
import { page } from "./page.testing";

let hand: ReturnType<typeof page>;
beforeEach(() => { hand = page(); });
afterEach(() => {
  hand.close();
  vi.useRealTimers();
});

const Hull = ({ name }: { name: string }) => <p>the hull of {name}</p>;
const there = () => act(async () => { await Promise.resolve(); });

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

it("says where nothing was sent, and tries again by itself", async () => {
  vi.useFakeTimers();
  const failing = () => Promise.reject(new Error("no answer"));
  const fetchIt = vi.fn(() => Promise.resolve(Hull)).mockImplementationOnce(failing).mockImplementationOnce(failing);
  const Later = fetchedLater(fetchIt, "it comes");
  hand.show(<Later name="Ferry" />);
  await there();
  expect(hand.said()).toContain("was not sent");
  await act(() => vi.advanceTimersByTimeAsync(AGAIN));
  expect([fetchIt.mock.calls.length, hand.said()]).toEqual([2, expect.stringContaining("was not sent")]);
  await act(() => vi.advanceTimersByTimeAsync(AGAIN));
  expect(hand.said()).toContain("the hull of Ferry");
  await act(() => vi.advanceTimersByTimeAsync(5 * AGAIN));
  expect(fetchIt).toHaveBeenCalledTimes(3);
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
