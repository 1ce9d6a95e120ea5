import { afterEach, beforeEach, expect, it } from "vitest";

import type { ChannelView, PartView, SceneHeader } from "../api/client";
import { addTryOuts, alikeChannels, channelsInScope, chosenLayer, dropTryOuts, keyedFrames, tryOutEdits, useKeyState, valuesEdit } from "./keying";
import { closeScene, useOpenScene } from "./openScene";
import { chooseChannel, chooseParts, choosePart } from "./selection";

const curve = (...frames: number[]) => ({ keys: frames.map((frame) => ({ frame, value: 0 })) });
const channel = (id: string, more: object = {}) => ({ id, name: id.replace("s1.", "turn "), locked: false, curve: null, on_layers: {}, ...more }) as unknown as ChannelView;
const part = (id: string, ...channels: ChannelView[]) => ({ id, name: id, steps: [], channels }) as unknown as PartView;

const usual = useKeyState.getState();

beforeEach(() => {
  const header = { layers: [{ id: "l1", name: "flow", part: "p1" }], sets: [{ id: "g1", name: "pair", parts: ["p1"], channels: [["p1", "rotation.z"], ["p2", "rotation.z"]] }] };
  useOpenScene.setState({
    header: header as unknown as SceneHeader,
    order: ["p1", "p2"],
    parts: {
      p1: part("p1", channel("translation.x", { curve: curve(3, 9) }), channel("rotation.z", { on_layers: { l1: curve(5) } }), channel("s1.weight"), channel("s1.speed")),
      p2: part("p2", channel("translation.x", { locked: true }), channel("rotation.z", { curve: curve(9.2, 20) })),
    },
  });
  chooseParts(["p2", "p1"]);
});
afterEach(() => {
  dropTryOuts();
  useKeyState.setState(usual, true);
  choosePart(null);
  closeScene();
});

it("keys what the scope says, without locked channels and weights", () => {
  const inScope = (scope: typeof usual.scope) => {
    useKeyState.setState({ scope });
    return channelsInScope().map(([id, name]) => `${id}.${name}`);
  };
  expect(inScope("channel")).toEqual([]);
  chooseChannel("p1", "rotation.z");
  expect(inScope("channel")).toEqual(["p1.rotation.z"]);
  expect(inScope("position")).toEqual(["p1.translation.x"]);
  expect(inScope("own channels")).toEqual(["p1.s1.speed"]);
  expect(inScope("all")).toEqual(["p2.rotation.z", "p1.translation.x", "p1.rotation.z", "p1.s1.speed"]);
  expect(inScope("set:g1")).toEqual(["p1.translation.x", "p1.rotation.z", "p1.s1.speed", "p2.rotation.z"]);
  expect(inScope("set:gone")).toEqual([]);
});

it("gives a value to all chosen parts that have a channel of that name and have not locked it", () => {
  const alike = (id: string, name: string) => {
    const found = useOpenScene.getState().parts[id]?.channels.find((one) => one.id === name);
    return found ? alikeChannels(id, found).map(([one]) => one) : [];
  };
  expect(alike("p1", "rotation.z")).toEqual(["p1", "p2"]);
  expect(alike("p1", "translation.x")).toEqual(["p1"]);
});

it("keys on the chosen layer as long as it is there, and always where that was asked for", () => {
  expect(valuesEdit(4, [["p1", "rotation.z", 1]])).toEqual({ do: "set channels", frame: 4, values: [["p1", "rotation.z", 1]] });
  useKeyState.setState({ autoKey: "always" });
  expect(valuesEdit(4, [])).toEqual({ do: "key value", frame: 4, values: [], layer: null });
  useKeyState.setState({ autoKey: "where keyed", layer: "l1" });
  expect(valuesEdit(4, [])).toMatchObject({ do: "key value", layer: "l1" });
  useKeyState.setState({ layer: "l9" });
  expect(chosenLayer()).toBeNull();
});

it("keeps one try-out for a channel, and makes values or keys of them", () => {
  const tried = (value: number, frame = 4) => ({ part: "p1", channel: "rotation.z", frame, value });
  addTryOuts([tried(1)]);
  addTryOuts([tried(2, 6), { ...tried(3), channel: "translation.x" }]);
  expect(useKeyState.getState().tryOuts.map(({ value, frame }) => [value, frame])).toEqual([[2, 6], [3, 4]]);
  useKeyState.setState({ scope: "changed only" });
  expect(channelsInScope()).toEqual([["p1", "rotation.z"], ["p1", "translation.x"]]);
  expect(tryOutEdits(true).map((edit) => edit.do)).toEqual(["key value", "key value"]);
  expect(tryOutEdits(false)[0]).toMatchObject({ do: "set channels", frame: 6, values: [["p1", "rotation.z", 2]] });
});

it("finds the whole frames nearest to the keys of the chosen parts on any layer, and of all where none is chosen", () => {
  expect(keyedFrames()).toEqual([3, 5, 9, 20]);
  chooseParts(["p2"]);
  expect(keyedFrames()).toEqual([9, 20]);
  choosePart(null);
  expect(keyedFrames()).toEqual([3, 5, 9, 20]);
});
