import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { ChannelView, OneEdit, PartView, SceneHeader } from "../../api/client";
import { useKeyState } from "../../state/keying";
import { closeScene, useOpenScene } from "../../state/openScene";
import { goTo, setRange } from "../../state/player";
import { choosePart, chooseParts } from "../../state/selection";
import { standIn } from "../../state/server.testing";
import { poseCommands } from "./poses";

const edits: OneEdit[] = [];
const said: string[] = [];
const run = (id: string) => {
  const commands = poseCommands((...made) => Promise.resolve(edits.push(...made) > 0), (text) => said.push(text));
  commands.find((one) => one.id === id)?.run();
};
const channel = (id: string, locked = false) => ({ id, name: id, locked }) as ChannelView;
let server: ReturnType<typeof standIn>;
const store = new Map<string, string>();

beforeEach(() => {
  server = standIn();
  vi.stubGlobal("localStorage", { getItem: (key: string) => store.get(key) ?? null, setItem: (key: string, text: string) => store.set(key, text) });
  useOpenScene.setState(({ header }) => ({
    sceneId: 7,
    header: { ...header, first: 2, last: 40, layers: [{ id: "l1" }], sets: [{ id: "g1", name: "pair", parts: [], channels: [["p2", "size"]] }] } as unknown as SceneHeader,
    parts: { p1: { id: "p1", channels: [channel("rotation.z"), channel("size", true), channel("s1.weight")] } as PartView },
  }));
  setRange({ first: 2, last: 40, fps: 24 });
  goTo(12);
  chooseParts(["p2", "p1"]);
  [edits.length, said.length] = [0, 0];
  store.clear();
});
afterEach(() => {
  useKeyState.setState({ layer: null, scope: "channel", autoKey: "where keyed" });
  choosePart(null);
  setRange({ first: 0, last: 0, fps: 24 });
  closeScene();
  vi.unstubAllGlobals();
});

it("resets the chosen parts on this frame, on the chosen layer, keyed where that is always done", () => {
  run("reset rotation");
  useKeyState.setState({ layer: "l1", autoKey: "always" });
  run("reset all");
  const what = { do: "reset channels", parts: ["p2", "p1"], frame: 12 };
  expect(edits).toEqual([{ ...what, group: "rotation", layer: null, key: false }, { ...what, group: "all", layer: "l1", key: true }]);
});

it("copies a pose or the whole animation, and pastes it by names, mirrored, or onto what is chosen", async () => {
  const clip = { kind: "pose", parts: [{ name: "hull" }] };
  server.answer("copy", { clip });
  run("paste");
  expect([edits, said]).toEqual([[], ["Nothing was copied yet."]]);
  run("copy pose");
  run("copy animation");
  await vi.waitFor(() => { expect(said.length).toBe(3); });
  const asked = server.questions("copy").map(({ body }) => body);
  expect(asked).toEqual([
    { channels: [["p1", "rotation.z"]], first: 12, last: null, layer: null },
    { channels: [["p1", "rotation.z"]], first: 2, last: 40, layer: null },
  ]);
  expect(said.at(-1)).toBe("Copied the pose of 1 part.");
  const stored = "paste pose of 1 part at 12; not here: sail";
  useOpenScene.setState(({ header }) => ({ header: { ...header, undo: stored } }));
  for (const id of ["paste", "paste mirrored", "paste onto chosen"]) run(id);
  const pasted = { do: "paste clip", clip, frame: 12, layer: null, key: false };
  expect(edits).toEqual([{ ...pasted, mirrored: false, onto: [] }, { ...pasted, mirrored: true, onto: [] }, { ...pasted, mirrored: false, onto: ["p2", "p1"] }]);
  await vi.waitFor(() => { expect(said.slice(3)).toEqual([stored, stored, stored]); });
});

it("copies the channels of a set where that is the key scope, and says why it cannot", async () => {
  useKeyState.setState({ scope: "set:g1" });
  server.answer("copy", { clip: { kind: "pose", parts: [] } });
  run("copy pose");
  await vi.waitFor(() => { expect(said.length).toBe(1); });
  expect(server.questions("copy")[0]?.body["channels"]).toEqual([["p2", "size"]]);
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("no way there")));
  run("copy pose");
  await vi.waitFor(() => { expect(said.at(-1)).toContain("does not answer"); });
});

it("takes a clip that is none for nothing", () => {
  store.set("bindu.clip", "{ not json");
  run("paste mirrored");
  expect([edits, said]).toEqual([[], ["Nothing was copied yet."]]);
});

it("makes the pose the rest or the default", () => {
  for (const id of ["set default pose", "clear default pose", "rest true true", "rest false false"]) run(id);
  const parts = ["p2", "p1"];
  expect(edits).toEqual([
    { do: "set default pose", parts, frame: 12 },
    { do: "set default pose", parts },
    { do: "rest from pose", parts, frame: 12, below: true, keep: true },
    { do: "rest from pose", parts, frame: 12, below: false, keep: false },
  ]);
});
