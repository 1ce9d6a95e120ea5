import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { OneEdit, SceneView } from "../api/client";
import { queryClient } from "../api/queryClient";
import { closeScene, takeView, useOpenScene } from "./openScene";
import { packed } from "./packed.testing";
import { useSamples } from "./samples";
import { useWaiting } from "./waiting";
import { isSending, restore, retrace, sendEdits } from "./scene";

const empty = useOpenScene.getInitialState().header;
const view = (revision: number, label = "an edit"): SceneView => ({ header: { ...empty, id: 7, revision }, order: [], parts: [], whole: false, label }) as SceneView;
const edit = (value: number): OneEdit => ({ do: "set value", part: "p1", channel: "size", value });

interface Asked {
  path: string;
  body: { revision: number; edits?: OneEdit[]; to?: number };
  answer: (response: Response) => void;
}
let asked: Asked[] = [];
const settle = async () => { for (let n = 0; n < 4; n += 1) await new Promise((done) => { setTimeout(done); }); };
const stored = (revision: number) => new Response(packed({ revision, first: 0, last: 0, blocks: [], view: view(revision) }, []));

beforeEach(() => {
  asked = [];
  vi.stubGlobal("fetch", (path: string, init?: { body?: string }) => new Promise<Response>((answer) => {
    asked.push({ path, body: JSON.parse(init?.body ?? "{}") as Asked["body"], answer });
  }));
  takeView(7, { ...view(3), whole: true });
});
afterEach(() => {
  closeScene();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

it("sends edits one after the other, each against the revision that the one before left", async () => {
  const both = [sendEdits(7, [edit(1)]), sendEdits(7, [edit(2)])];
  await settle();
  expect(asked.map(({ path, body }) => [path, body.revision])).toEqual([["/api/scenes/7/edits", 3]]);
  expect([isSending(), useWaiting.getState()]).toEqual([true, { edits: 2, away: false }]);
  asked[0]?.answer(stored(4));
  await settle();
  expect(asked.map(({ body }) => [body.revision, body.edits])).toEqual([[3, [edit(1)]], [4, [edit(2)]]]);
  asked[1]?.answer(stored(5));
  await Promise.all(both);
  await settle();
  expect([useOpenScene.getState().header.revision, isSending()]).toEqual([5, false]);
});

it("keeps a change that is under way where the next one gives the whole thing anew", async () => {
  const part = (rest: number[]) => ({ id: "p1", name: "hull", rest: { translation: rest }, steps: [], channels: [] });
  const seen = (revision: number, rest: number[]) => ({ ...view(revision), order: ["p1"], parts: [part(rest)] }) as unknown as SceneView;
  takeView(7, { ...seen(3, [0, 0, 0]), whole: true });
  const to = (translation: [number, number, number]): OneEdit => ({ do: "change part", part: "p1", rest: { translation } });
  // As typed with Tab between, before the first answer is there.
  const both = [sendEdits(7, [to([1, 0, 0])]), sendEdits(7, [to([0, 2, 0])])];
  await settle();
  asked[0]?.answer(new Response(packed({ revision: 4, first: 0, last: 0, blocks: [], view: seen(4, [1, 0, 0]) }, [])));
  await settle();
  expect(asked[1]?.body.edits).toEqual([to([1, 2, 0])]);
  asked[1]?.answer(stored(5));
  await Promise.all(both);
});

it("goes on with the next edit where one is refused, and changes nothing by the refused one", async () => {
  const first = sendEdits(7, [edit(1)]);
  const refused = expect(first).rejects.toThrow("it is locked");
  const second = sendEdits(7, [edit(2)]);
  await settle();
  asked[0]?.answer(new Response(JSON.stringify({ error: "it is locked" }), { status: 422 }));
  await refused;
  await settle();
  expect(asked[1]?.body).toMatchObject({ revision: 3, edits: [edit(2)] });
  asked[1]?.answer(stored(4));
  await second;
});

it("looks at what others did where an edit came too late", async () => {
  const looked = vi.spyOn(queryClient, "invalidateQueries").mockResolvedValue();
  const late = expect(sendEdits(7, [edit(1)])).rejects.toThrow("was changed since");
  await settle();
  asked[0]?.answer(new Response(JSON.stringify({ error: "it was changed since", revision: 9, changed: ["set p1.size"] }), { status: 409 }));
  await late;
  expect(looked).toHaveBeenCalledWith({ queryKey: ["scene", 7] });
});

it("takes back, does again and restores in line with edits", async () => {
  const back = retrace(7, "undo");
  const again = retrace(7, "redo");
  const old = restore(7, 1);
  for (const revision of [4, 5, 6]) {
    await settle();
    asked.at(-1)?.answer(stored(revision));
  }
  await expect(Promise.all([back, again, old])).resolves.toEqual(["an edit", "an edit", undefined]);
  expect(asked.map(({ path, body }) => [path.split("/").at(-1), body.revision, body.to])).toEqual([["undo", 3, undefined], ["redo", 4, undefined], ["restore", 5, 1]]);
});

it("stores what was still on its way when another scene was opened, and leaves that one alone", async () => {
  const both = [sendEdits(7, [edit(1)]), sendEdits(7, [edit(2)])];
  await settle();
  closeScene();
  takeView(8, { ...view(20), header: { ...empty, id: 8, revision: 20 }, whole: true });
  asked[0]?.answer(stored(4));
  await settle();
  expect(useOpenScene.getState()).toMatchObject({ sceneId: 8, header: { id: 8, revision: 20 } });
  expect(asked[1]?.body).toMatchObject({ revision: 4, edits: [edit(2)], shown: { wants: [], have: {} } });
  asked[1]?.answer(stored(5));
  await Promise.all(both);
  const { header } = useOpenScene.getState();
  expect([header.id, header.revision]).toEqual([8, 20]);
});

it("shows no numbers of another scene where one was left and came back before the answer", async () => {
  const both = [sendEdits(7, [edit(1)]), sendEdits(7, [edit(2)])];
  await settle();
  closeScene();
  useSamples.setState({ blocks: { "p1/size/final": { key: "of another", frames: 1, width: 1, data: Float32Array.of(9) } } });
  asked[0]?.answer(stored(4));
  await settle();
  takeView(7, { ...view(4), whole: true });
  useSamples.setState({ blocks: {} });
  asked[1]?.answer(stored(5));
  await Promise.all(both);
  expect([useSamples.getState().blocks, useOpenScene.getState().header.revision]).toEqual([{}, 5]);
});

it("says which scene it was where an edit is refused after it was left", async () => {
  takeView(7, { ...view(3), header: { ...empty, id: 7, revision: 3, name: "Ferry" }, whole: true });
  const refused = expect(sendEdits(7, [edit(1)])).rejects.toThrow("“Ferry”, which you left: it is locked");
  await settle();
  closeScene();
  asked[0]?.answer(new Response(JSON.stringify({ error: "it is locked" }), { status: 422 }));
  await refused;
});
