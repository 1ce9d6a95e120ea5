import { afterEach, expect, it, vi } from "vitest";

import { AGAIN } from "../api/queryClient";
import { packed } from "./packed.testing";
import { feed, headerOf, useSamples, valueAt } from "./samples";

const head = { revision: 3, first: 10, last: 12, missing: [] };

it("reads blocks, and takes what it holds already from what was there", () => {
  const first = { want: "p/x/final", key: "k1", frames: 3, width: 1, offset: 0 };
  feed.takeWithEdit(packed({ ...head, blocks: [first] }, [1, 2, 3]), {});
  const { blocks } = useSamples.getState();
  expect([...(blocks["p/x/final"]?.data ?? [])]).toEqual([1, 2, 3]);
  const same = { want: "p/x/driven", key: "k1", frames: 3, width: 1 };
  feed.takeWithEdit(packed({ ...head, revision: 4, blocks: [same] }, []), blocks);
  const after = useSamples.getState();
  expect(after.blocks["p/x/final"]).toBe(blocks["p/x/final"]);
  expect(after.blocks["p/x/driven"]?.data).toBe(blocks["p/x/final"]?.data);
  expect([after.first, after.last]).toEqual([10, 12]);
  feed.takeWithEdit(packed({ ...head, revision: 5, missing: ["p/x/final"], blocks: [] }, []), after.blocks);
  expect(Object.keys(useSamples.getState().blocks)).toEqual(["p/x/driven"]);
});

it("finds the value of a frame, also outside the range and of a constant", () => {
  const block = { key: "k", frames: 3, width: 1, data: Float32Array.from([1, 2, 3]) };
  expect([9, 10, 11, 12, 99].map((frame) => valueAt(block, frame, 10))).toEqual([1, 1, 2, 3, 3]);
  expect(valueAt({ ...block, frames: 1 }, 12, 10)).toBe(1);
  expect(valueAt(undefined, 12, 10)).toBeUndefined();
});

it("reads the header with names in any script", () => {
  expect(headerOf(packed({ ...head, blocks: [] }, []))).toMatchObject({ revision: 3 });
});

/** A server whose answers are given by hand: what it was asked, and the next answer. */
function server() {
  const asked: { trying: unknown[]; have: Record<string, string> }[] = [];
  const open: ((response: Response) => void)[] = [];
  vi.stubGlobal("fetch", (_: string, { body }: { body: string }) => {
    asked.push(JSON.parse(body) as (typeof asked)[number]);
    return new Promise<Response>((done) => { open.push(done); });
  });
  const answer = async (revision: number, key: string, value: number) => {
    const blocks = [{ want: "p/x/final", key, frames: 1, width: 1, offset: 0 }];
    open.shift()?.(new Response(packed({ revision, first: 0, last: 0, blocks }, [value])));
    for (let n = 0; n < 4; n += 1) await new Promise((done) => { setTimeout(done); });
  };
  const refuse = async () => {
    open.shift()?.(new Response(JSON.stringify({ error: "it cannot be" }), { status: 422 }));
    for (let n = 0; n < 4; n += 1) await new Promise((done) => { setTimeout(done); });
  };
  return { asked, open, answer, refuse };
}

const shown = () => useSamples.getState().blocks["p/x/final"]?.data[0];
const tried = (value: number) => [{ do: "set channels" as const, frame: 0, values: [["p", "x", value]] as [string, string, number][] }];

afterEach(() => { vi.unstubAllGlobals(); });

it("asks one thing at a time, the newest, and for the next before it takes what came", async () => {
  const { asked, open, answer } = server();
  feed.open(7);
  const end = feed.want(["p/x/final"]);
  await Promise.resolve();
  expect(asked).toHaveLength(1);
  for (const value of [1, 2, 3]) feed.tryOut(tried(value));
  expect(asked).toHaveLength(1);
  await answer(1, "k0", 10);
  // Only the last try-out was asked for, with nothing of the first answer held yet.
  expect(asked.slice(1)).toEqual([{ wants: [{ part: "p", quantity: "x", stage: "final" }], have: {}, trying: tried(3) }]);
  expect([shown(), open.length]).toEqual([10, 1]);
  feed.tryOut(tried(4));
  await answer(1, "k3", 30);
  expect([shown(), asked.length, asked[2]?.have]).toEqual([30, 3, { "p/x/final": "k0" }]);
  await answer(1, "k4", 40);
  expect([shown(), asked.length, open.length]).toEqual([40, 3, 0]);
  end();
});

it("asks again where an edit was answered meanwhile, and shows what was there where a try is refused", async () => {
  const { asked, answer, refuse } = server();
  feed.open(8);
  const end = feed.want(["p/x/final"]);
  await Promise.resolve();
  await answer(1, "a1", 1);
  feed.tryOut(tried(5));
  await Promise.resolve();
  feed.takeWithEdit(packed({ revision: 2, first: 0, last: 0, blocks: [{ want: "p/x/final", key: "a2", frames: 1, width: 1, offset: 0 }] }, [2]), {});
  await answer(1, "old", 99);
  expect(shown()).toBe(2);
  await answer(2, "a3", 3);
  expect(shown()).toBe(3);
  feed.tryOut(tried(6));
  await Promise.resolve();
  await refuse();
  expect([shown(), useSamples.getState().problem]).toEqual([3, null]);
  feed.tryOut([]);
  await Promise.resolve();
  await answer(2, "a4", 4);
  expect([shown(), asked.at(-1)?.trying]).toEqual([4, []]);
  await feed.settled();
  end();
});

it("leaves out what the view alone draws until that is due, and brings it then without being asked", async () => {
  const soon = setTimeout;
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout", "performance"] });
  const asked: { wants: { quantity: string }[]; have: Record<string, string>; trying: unknown[] }[] = [];
  let count = 0;
  vi.stubGlobal("fetch", (_: string, { body }: { body: string }) => {
    const wish = JSON.parse(body) as (typeof asked)[number];
    asked.push(wish);
    count += 1;
    const blocks = wish.wants.map(({ quantity }, n) => ({ want: `p/${quantity}/final`, key: `${quantity} ${String(count)}`, frames: 1, width: 1, offset: 4 * n }));
    return Promise.resolve(new Response(packed({ revision: 1, first: 0, last: 0, blocks }, blocks.map(() => count))));
  });
  const passing = async (time: number) => {
    await vi.advanceTimersByTimeAsync(time);
    // What fetch resolves to is read by real turns of the loop.
    for (let n = 0; n < 4; n += 1) await new Promise((done) => { soon(done); });
  };
  const now = () => ["x", "world matrix"].map((quantity) => useSamples.getState().blocks[`p/${quantity}/final`]?.data[0]);
  feed.open(9);
  const end = feed.want(["p/x/final", "*/world matrix/final"]);
  await passing(0);
  expect(now()).toEqual([1, 1]);
  const { arrivals } = useSamples.getState();
  feed.letViewRest(60);
  for (const value of [1, 2]) {
    feed.tryOut(tried(value));
    await passing(10);
  }
  // The curve has moved twice, the view not at all, and nothing of it was said to the server.
  expect([now(), useSamples.getState().arrivals]).toEqual([[3, 1], arrivals]);
  expect(asked.slice(1).map(({ wants, have }) => [wants.map(({ quantity }) => quantity), have])).toEqual([
    [["x"], { "p/x/final": "x 1" }],
    [["x"], { "p/x/final": "x 2" }],
  ]);
  await passing(60);
  expect([now(), asked.length, useSamples.getState().arrivals]).toEqual([[4, 4], 4, arrivals + 1]);
  expect(asked[3]?.have).toEqual({ "p/x/final": "x 3", "p/world matrix/final": "world matrix 1" });
  // Let go, all of it comes at once.
  feed.letViewRest(60);
  feed.tryOut(tried(3));
  await passing(1);
  feed.tryOut([]);
  await passing(1);
  expect([now(), asked.at(-1)?.trying]).toEqual([[6, 6], []]);
  await passing(200);
  expect(asked).toHaveLength(6);
  // So it is in every try where the view draws quickly.
  feed.letViewRest(0);
  feed.tryOut(tried(4));
  await passing(1);
  expect(now()).toEqual([7, 7]);
  feed.tryOut([]);
  await passing(1);
  end();
  vi.useRealTimers();
});

it("keeps the newest of what was not asked, also where the next question is out before it came", async () => {
  const { open } = server();
  feed.open(10);
  const end = feed.want(["p/x/final", "*/world matrix/final"]);
  await Promise.resolve();
  feed.letViewRest(1000);
  feed.tryOut(tried(1));
  const send = async (head: object, numbers: number[]) => {
    open.shift()?.(new Response(packed({ revision: 1, first: 0, last: 0, ...head }, numbers)));
    for (let n = 0; n < 4; n += 1) await new Promise((done) => { setTimeout(done); });
  };
  const block = (want: string, offset: number) => ({ want, key: `${want} ${String(offset)}`, frames: 1, width: 1, offset });
  await send({ blocks: [block("p/x/final", 0), block("p/world matrix/final", 4)] }, [1, 2]);
  expect(open).toHaveLength(1);
  await send({ blocks: [block("p/x/final", 0)] }, [3]);
  const { blocks } = useSamples.getState();
  expect([blocks["p/x/final"]?.data[0], blocks["p/world matrix/final"]?.data[0]]).toEqual([3, 2]);
  feed.tryOut([]);
  await Promise.resolve();
  await send({ blocks: [] }, []);
  await feed.settled();
  end();
});

it("brings what is shown once the server, or its database, is back", async () => {
  const soon = setTimeout;
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] });
  const passing = async (time: number) => {
    await vi.advanceTimersByTimeAsync(time);
    for (let n = 0; n < 4; n += 1) await new Promise((done) => { soon(done); });
  };
  const answers: (() => Response)[] = [
    () => { throw new TypeError("nobody there"); },
    () => new Response(JSON.stringify({ error: "the database does not answer" }), { status: 503 }),
    () => new Response(packed({ revision: 1, first: 0, last: 0, blocks: [{ want: "p/x/final", key: "k", frames: 1, width: 1, offset: 0 }] }, [5])),
    () => new Response(JSON.stringify({ error: "it is no number" }), { status: 422 }),
  ];
  let asked = 0;
  vi.stubGlobal("fetch", async () => answers[asked++]?.());
  feed.open(11);
  const end = feed.want(["p/x/final"]);
  await passing(0);
  expect([asked, useSamples.getState().problem]).toEqual([1, "The server does not answer; is it still running?"]);
  await passing(AGAIN);
  expect([asked, useSamples.getState().problem]).toEqual([2, "the database does not answer"]);
  await passing(AGAIN);
  expect([asked, shown(), useSamples.getState().problem]).toEqual([3, 5, null]);
  // What is refused would be again.
  feed.moveTo(2);
  await passing(5 * AGAIN);
  expect([asked, useSamples.getState().problem]).toEqual([4, "it is no number"]);
  end();
  vi.useRealTimers();
});
