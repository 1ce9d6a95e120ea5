import { expect, it } from "vitest";

import { feed, headerOf, useSamples, valueAt } from "./samples";

/** A binary answer as the server packs it. */
function packed(header: object, numbers: number[]): ArrayBuffer {
  let text = JSON.stringify(header);
  text += " ".repeat((4 - (text.length % 4)) % 4);
  const buffer = new ArrayBuffer(4 + text.length + numbers.length * 4);
  new DataView(buffer).setUint32(0, text.length, true);
  new Uint8Array(buffer, 4).set(new TextEncoder().encode(text));
  new Float32Array(buffer, 4 + text.length).set(numbers);
  return buffer;
}

const head = { revision: 3, first: 10, last: 12, missing: [] };

it("reads blocks, and takes what it holds already from what was there", () => {
  const first = { want: "p/x/final", key: "k1", frames: 3, width: 1, offset: 0 };
  feed.takeWithEdit(packed({ ...head, blocks: [first] }, [1, 2, 3]), {});
  const { blocks } = useSamples.getState();
  expect([...(blocks["p/x/final"]?.data ?? [])]).toEqual([1, 2, 3]);
  const again = { want: "p/x/final", key: "k1", frames: 3, width: 1 };
  const same = { want: "p/x/driven", key: "k1", frames: 3, width: 1 };
  feed.takeWithEdit(packed({ ...head, revision: 4, blocks: [again, same] }, []), blocks);
  const after = useSamples.getState();
  expect(after.blocks["p/x/final"]).toBe(blocks["p/x/final"]);
  expect(after.blocks["p/x/driven"]?.data).toBe(blocks["p/x/final"]?.data);
  expect([after.first, after.last]).toEqual([10, 12]);
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
