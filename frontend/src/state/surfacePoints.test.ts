import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { SurfaceHead } from "../api/client";
import { AGAIN } from "../api/queryClient";
import { packed } from "./packed.testing";
import { usePlayer } from "./player";
import { useSamples } from "./samples";
import { channelsOf, SurfacePoints, surfaceWants } from "./surfacePoints";

const surface = {
  id: "f1",
  part: "p1",
  steps: [
    { id: "d1", kind: "blend shapes", joints: [], shapes: [["fat", 3], ["thin", 2]] },
    { id: "d2", kind: "bend by joints", joints: ["p2", "p1"], shapes: [] },
    { id: "d3", kind: "displace", joints: [], shapes: [] },
  ],
} as unknown as SurfaceHead;

let asked: { frames: number[]; have: string[]; other: string[] | null }[] = [];
let open: ((response: Response) => void)[] = [];
let arrived = 0;
const settle = async () => { for (let n = 0; n < 4; n += 1) await new Promise((done) => { setTimeout(done); }); };

/** The server answers with two points a frame, both at the frame's number; its mesh where that is not
 * there yet. */
async function answer() {
  const { frames = [], have = [] } = asked.at(-1) ?? {};
  const numbers = frames.flatMap((frame) => [frame, 0, 0, frame, 1, 0]);
  const blocks: object[] = [{ want: "points", key: "x", frames: frames.length, width: 6, offset: 0 }];
  for (const [n, want] of ["triangles", "edges"].entries()) {
    const key = `${want} m1`;
    if (have.includes(key)) blocks.push({ want, key, frames: 1, width: 2 });
    else {
      blocks.push({ want, key, frames: 1, width: 2, offset: 4 * numbers.length });
      numbers.push(n, 1);
    }
  }
  open.shift()?.(new Response(packed({ revision: 1, first: 0, last: 9, blocks, costs: { d1: 2 } }, numbers)));
  await settle();
}

beforeEach(() => {
  asked = [];
  open = [];
  arrived = 0;
  vi.stubGlobal("fetch", (_: string, { body }: { body: string }) => {
    asked.push(JSON.parse(body) as (typeof asked)[number]);
    return new Promise<Response>((done) => { open.push(done); });
  });
  useSamples.setState({ blocks: {}, first: 0, last: 29 });
  usePlayer.setState({ frame: 5, playing: false });
});
afterEach(() => {
  usePlayer.setState({ frame: 0, playing: false });
  vi.unstubAllGlobals();
});

it("says which numbers a surface follows from", () => {
  expect(channelsOf(surface)).toEqual(["f1.d1.weight", "f1.d1.fat", "f1.d1.thin", "f1.d2.weight", "f1.d3.weight", "f1.d3.amplitude", "f1.d3.length", "f1.d3.shift"]);
  expect(surfaceWants(surface).slice(0, 3)).toEqual(["p1/world matrix/final", "p2/world matrix/final", "p1/f1.d1.weight/final"]);
});

it("fetches the frame that is looked at once, and its mesh once for all frames", async () => {
  const points = new SurfacePoints("f1", () => { arrived += 1; });
  expect(points.at(5, surface, null)).toBeNull();
  expect(points.at(5, surface, null)).toBeNull();
  expect(asked.map(({ frames }) => frames)).toEqual([[5]]);
  await answer();
  expect([arrived, [...(points.at(5, surface, null)?.points ?? [])], points.costs]).toEqual([1, [5, 0, 0, 5, 1, 0], { d1: 2 }]);
  // Another frame shows the last one until it has come.
  expect(points.at(7, surface, null)?.points[0]).toBe(5);
  expect(asked[1]).toMatchObject({ frames: [7], have: ["triangles m1", "edges m1"] });
  await answer();
  const shown = points.at(7, surface, null);
  expect([shown?.points[0], shown?.mesh.key, [...(shown?.mesh.edges ?? [])], asked.length]).toEqual([7, "m1", [1, 1], 2]);
});

it("fetches ahead while it plays, round the end, and again when half is used up", async () => {
  const points = new SurfacePoints("f1", () => undefined);
  usePlayer.setState({ frame: 25, playing: true });
  points.at(25, surface, null);
  expect(asked[0]?.frames).toEqual([25, 26, 27, 28, 29, 0, 1, 2, 3, 4, 5, 6]);
  await answer();
  for (const frame of [26, 28, 0, 1]) points.at(frame, surface, null);
  expect(asked).toHaveLength(1);
  points.at(2, surface, null);
  expect(asked[1]?.frames).toEqual([7, 8, 9, 10, 11, 12, 13]);
});

it("drops what it has when the numbers, or the second order, are others; what comes too late is not taken", async () => {
  const points = new SurfacePoints("f1", () => { arrived += 1; });
  points.at(5, surface, null);
  useSamples.setState({ blocks: { "p2/world matrix/final": { key: "new", frames: 1, width: 12, data: new Float32Array(12) } } });
  points.at(5, surface, null);
  await answer();
  expect([points.at(5, surface, null), arrived]).toEqual([null, 1]);
  await answer();
  expect(points.at(5, surface, null)?.points[0]).toBe(5);
  points.at(5, surface, ["d2", "d1", "d3"]);
  expect(asked.at(-1)).toMatchObject({ frames: [5], other: ["d2", "d1", "d3"] });
});

it("says why nothing comes and does not ask on and on; once it has ended nothing arrives", async () => {
  const points = new SurfacePoints("f1", () => { arrived += 1; });
  points.at(5, surface, null);
  open.shift()?.(new Response(JSON.stringify({ error: "too many points" }), { status: 422 }));
  await settle();
  points.at(5, surface, null);
  points.at(6, surface, null);
  expect([points.problem, asked.length, arrived]).toEqual(["too many points", 1, 1]);
  useSamples.setState({ blocks: { "p1/world matrix/final": { key: "moved", frames: 1, width: 12, data: new Float32Array(12) } } });
  points.at(6, surface, null);
  expect([points.problem, asked.length]).toEqual([null, 2]);
  points.end();
  await answer();
  expect(arrived).toBe(1);
});

it("asks again by itself where the server is away, and not where it refuses", async () => {
  const shown = new SurfacePoints("f1", () => { arrived += 1; });
  const away = vi.fn(() => Promise.reject(new TypeError("nobody there")));
  vi.stubGlobal("fetch", away);
  const soon = setTimeout;
  vi.useFakeTimers({ toFake: ["setTimeout"] });
  const passing = async (time: number) => {
    await vi.advanceTimersByTimeAsync(time);
    for (let n = 0; n < 4; n += 1) await new Promise((done) => { soon(done); });
    shown.at(5, surface, null);
  };
  shown.at(5, surface, null);
  await passing(1);
  expect([away.mock.calls.length, shown.problem]).toEqual([1, "The server does not answer; is it still running?"]);
  arrived = 0;
  away.mockImplementation((() => Promise.resolve(new Response(JSON.stringify({ error: "it has no points" }), { status: 422 }))) as never);
  await passing(AGAIN);
  expect([arrived, shown.problem]).toEqual([1, null]);
  await passing(3 * AGAIN);
  expect([away.mock.calls.length, shown.problem]).toEqual([2, "it has no points"]);
  vi.useRealTimers();
});
