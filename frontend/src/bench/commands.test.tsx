// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { ChannelView, PartView, SceneHeader } from "../api/client";
import { allCommands } from "../commands/commandList";
import { page } from "../shared/page.testing";
import { addTryOuts, useKeyState } from "../state/keying";
import { useKit } from "../state/kit";
import { closeScene, useOpenScene } from "../state/openScene";
import { usePanels } from "../state/panels";
import { enterScene } from "../state/perScene";
import { goTo, setRange, usePlayer } from "../state/player";
import { feed } from "../state/samples";
import { chooseChannel, chooseKeys, choosePart, chooseParts, chooseStep, useSelection } from "../state/selection";
import { standIn } from "../state/server.testing";
import { useShowing } from "../state/showing";
import { useBenchCommands } from "./commands";

const curve = (...frames: number[]) => ({ keys: frames.map((frame) => ({ frame, value: 0 })) });
const channel = (id: string, more: object = {}) => ({ id, name: id, locked: false, curve: null, on_layers: {}, ...more }) as unknown as ChannelView;
const part = (id: string, opposite: string | null, ...channels: ChannelView[]) => ({ id, name: id, opposite, steps: [{ id: "s1", name: "turn", on: true }], channels }) as unknown as PartView;

function Page() {
  useBenchCommands();
  return null;
}

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const frame = () => usePlayer.getState().frame;
const by = (name: string) => { act(() => { allCommands().find((one) => one.name === name)?.run(); }); };

beforeEach(() => {
  server = standIn();
  enterScene(7);
  const layers = [{ id: "l1", name: "flow", part: "p1", mode: "add" }];
  useOpenScene.setState(({ header }) => ({
    sceneId: 7,
    header: { ...header, layers } as SceneHeader,
    order: ["p1", "p2", "p3"],
    parts: {
      p1: part("p1", "p2", channel("translation.x", { curve: curve(4, 12.5, 20) }), channel("rotation.z", { curve: curve(30), on_layers: { l1: curve(8) } }), channel("size", { locked: true, curve: curve(50) })),
      p2: part("p2", "p1", channel("translation.x")),
      p3: part("p3", null),
    },
  }));
  setRange({ first: 0, last: 60, fps: 24 });
  hand = page();
  hand.show(<Page />);
  act(() => { chooseChannel("p1", "translation.x"); });
});
afterEach(() => {
  act(() => { choosePart(null); enterScene(0); });
  usePanels.setState({ folded: [] });
  useKeyState.setState({ autoKey: "where keyed", scope: "channel" });
  useShowing.setState({ tool: "none" });
  hand.close();
  setRange({ first: 0, last: 0, fps: 24 });
  closeScene();
  vi.unstubAllGlobals();
});

it("keeps what is tried where keeping it is refused, and sends it once", async () => {
  const tried = (value: number, channel = "translation.x") => ({ part: "p1", channel, frame: 0, value });
  act(() => { addTryOuts([tried(900), tried(2, "rotation.z")]); });
  for (const name of ["Keep all try-outs", "Key the key scope on this frame"]) {
    server.refuse("900 is outside its range");
    by(name);
    // Tried anew before the answer is there.
    act(() => { addTryOuts([tried(3, "rotation.z")]); });
    await server.settled();
    expect(useKeyState.getState().tryOuts).toEqual([tried(900), tried(3, "rotation.z")]);
  }
  act(() => { addTryOuts([tried(1)]); });
  const before = server.edits().length;
  by("Keep all try-outs");
  by("Keep all try-outs");
  act(() => { addTryOuts([tried(7, "size")]); });
  await server.settled();
  expect(server.edits()).toHaveLength(before + 2);
  expect(useKeyState.getState().tryOuts).toEqual([tried(7, "size")]);
  expect(feed.allTried()).toMatchObject([{ values: [["p1", "size", 7]] }]);
});

it("leaves keys chosen that could not be deleted", async () => {
  const picks = [{ part: "p1", channel: "translation.x", frames: [4] }];
  act(() => { chooseKeys(picks); });
  server.refuse("it is locked");
  hand.press("Delete");
  await server.settled();
  expect([useSelection.getState().keys, server.edits()]).toEqual([picks, [{ do: "delete keys", picks }]]);
});

it("goes from key to key both ways, also by keys between frames", () => {
  const way = (key: string, times: number) => Array.from({ length: times }, () => {
    hand.press(key, { shiftKey: true });
    return frame();
  });
  expect(way("ArrowRight", 4)).toEqual([4, 13, 20, 20]);
  expect(way("ArrowLeft", 3)).toEqual([13, 4, 4]);
  act(() => { choosePart("p1"); useSelection.setState({ channel: null }); });
  expect(way("ArrowRight", 5)).toEqual([13, 20, 30, 50, 50]);
});

it("looks for keys on the chosen layer, and on the base once that layer is gone", () => {
  act(() => { chooseChannel("p1", "rotation.z"); useKeyState.setState({ layer: "l1" }); });
  hand.press("ArrowRight", { shiftKey: true });
  expect(frame()).toBe(8);
  useOpenScene.setState(({ header }) => ({ header: { ...header, layers: [] } }));
  hand.press("ArrowRight", { shiftKey: true });
  expect(frame()).toBe(30);
});

it("chooses the key on this frame or the nearest, and goes there", () => {
  goTo(17);
  hand.press("k");
  expect([frame(), useSelection.getState().keys]).toEqual([20, [{ part: "p1", channel: "translation.x", frames: [20] }]]);
  goTo(12);
  hand.press("k");
  expect([frame(), useSelection.getState().keys[0]?.frames]).toEqual([13, [12.5]]);
  hand.press("Escape");
  expect(useSelection.getState().keys).toEqual([]);
});

it("keys what the scope holds and has no key here, with what is tried, as one edit", async () => {
  goTo(20);
  hand.press("d");
  await server.settled();
  expect(server.edits()).toEqual([]);
  act(() => {
    useKeyState.setState({ scope: "all" });
    addTryOuts([{ part: "p1", channel: "rotation.z", frame: 20, value: 3 }]);
  });
  hand.press("d");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "key value", frame: 20, values: [["p1", "rotation.z", 3]], layer: null }]);
  goTo(21);
  hand.press("d");
  await server.settled();
  expect(server.edits().at(-1)).toEqual({ do: "key channels", frame: 21, channels: [["p1", "translation.x"], ["p1", "rotation.z"]], layer: null });
  expect(useKeyState.getState().tryOuts).toEqual([]);
});

it("says why a command does nothing", async () => {
  const says = (key: string, words: string) => {
    hand.press(key);
    expect(hand.said()).toContain(words);
  };
  goTo(20);
  says("d", "There is a key on frame 20 already");
  says("m", "No step is chosen");
  says("Delete", "No key is chosen");
  act(() => { chooseChannel("p1", "size"); });
  says("d", "Locked channels are not keyed");
  act(() => { chooseChannel("p2", "translation.x"); });
  says("k", "translation.x has no keys");
  act(() => { choosePart("p3"); });
  for (const key of ["d", "k"]) says(key, "No channel is chosen");
  by("Drive this: a formula for the chosen channel");
  act(() => { useKeyState.setState({ scope: "rotation" }); });
  says("d", "The key scope holds no channel here");
  act(() => { useKeyState.setState({ scope: "changed only" }); });
  says("d", "Nothing is only tried");
  await server.settled();
  expect(server.edits()).toEqual([]);
});

it("deletes chosen keys once, and mutes the chosen step", async () => {
  act(() => { chooseKeys([{ part: "p1", channel: "translation.x", frames: [4] }]); });
  hand.press("Delete");
  hand.press("Delete");
  hand.press("m");
  act(() => { chooseStep("s1"); });
  hand.press("m");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "delete keys", picks: [{ part: "p1", channel: "translation.x", frames: [4] }] }, { do: "change step", step: "s1", on: false }]);
});

it("selects opposites, those without one staying", () => {
  act(() => { chooseParts(["p3", "p1"]); });
  hand.press("o");
  expect(useSelection.getState().parts).toEqual(["p3", "p2"]);
  act(() => { choosePart("p1"); });
  hand.press("o");
  expect(useSelection.getState()).toMatchObject({ part: "p2", parts: ["p2"] });
});

it("isolates and shows again, hides, and takes handles up and down by one key each", () => {
  hand.press("i");
  expect(useShowing.getState().isolated).toEqual(["p1"]);
  hand.press("i");
  hand.press("h");
  expect([useShowing.getState().isolated, useShowing.getState().hidden]).toEqual([null, ["p1"]]);
  by("Show all parts");
  for (const [key, tool] of [["1", "move"], ["2", "turn"], ["2", "none"], ["3", "scale"]]) {
    hand.press(key ?? "");
    expect(useShowing.getState()).toMatchObject({ tool, hidden: [] });
  }
});

it("offers every command by name: forms of the kit, folding, driving", async () => {
  by("New gait: open its form in the kit");
  expect(useKit.getState()).toMatchObject({ tab: "kit", open: { kind: "gaits", id: null } });
  by("Fold or show the ledger");
  expect(usePanels.getState().folded).toEqual(["ledger"]);
  by("Drive this: a formula for the chosen channel");
  await server.settled();
  expect(server.edits()).toMatchObject([{ do: "add step", part: "p1", name: "formula", settings: { kind: "formula", channel: "translation.x" } }]);
  const names = allCommands().map(({ name }) => name);
  expect(new Set(names).size).toBe(names.length);
});
