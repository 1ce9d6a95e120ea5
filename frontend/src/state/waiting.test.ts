import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { Refused } from "../api/client";
import { AGAIN } from "../api/queryClient";
import { untilAnswered, useWaiting, warnOfWaiting } from "./waiting";

/** A server that is away for so many questions, and then at a revision. */
function serverBackAfter(failures: number, revision: number) {
  let asked = 0;
  vi.stubGlobal("fetch", () => {
    asked += 1;
    if (asked <= failures) return Promise.reject(new TypeError("nobody there"));
    return Promise.resolve(new Response(JSON.stringify({ revision }), { status: 200, headers: { "Content-Type": "application/json" } }));
  });
}

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("window", globalThis);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

it("does work at once where the server answers, and nothing waits", async () => {
  await expect(untilAnswered(1, 5, () => Promise.resolve("done"))).resolves.toBe("done");
  expect(useWaiting.getState().away).toBe(false);
});

it("waits for the server, says that it does, and does the work again on the same revision", async () => {
  serverBackAfter(2, 5);
  let tries = 0;
  const made = untilAnswered(1, 5, () => {
    tries += 1;
    return tries === 1 ? Promise.reject(new TypeError("nobody there")) : Promise.resolve("done");
  });
  await vi.advanceTimersByTimeAsync(0);
  expect(useWaiting.getState().away).toBe(true);
  const leaving = { preventDefault: vi.fn() };
  warnOfWaiting(leaving as unknown as BeforeUnloadEvent);
  expect(leaving.preventDefault).toHaveBeenCalledOnce();
  await vi.advanceTimersByTimeAsync(3 * AGAIN);
  await expect(made).resolves.toBe("done");
  expect(tries).toBe(2);
  expect(useWaiting.getState().away).toBe(false);
});

it("does not change a scene twice that moved on meanwhile, be it by this very edit", async () => {
  serverBackAfter(0, 6);
  const work = vi.fn(() => Promise.reject(new TypeError("cut off")));
  const made = untilAnswered(1, 5, work);
  const refused = expect(made).rejects.toThrow("look whether your edit is there");
  await vi.advanceTimersByTimeAsync(AGAIN);
  await refused;
  expect(work).toHaveBeenCalledOnce();
  expect(useWaiting.getState().away).toBe(false);
});

it("passes on what is refused, and waits for nothing", async () => {
  const refusal = new Refused({ error: "no such part" }, 422);
  await expect(untilAnswered(1, 5, () => Promise.reject(refusal))).rejects.toBe(refusal);
  expect(useWaiting.getState().away).toBe(false);
});
