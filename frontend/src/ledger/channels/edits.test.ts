import { afterEach, beforeEach, expect, it } from "vitest";

import type { ChannelView, OneEdit, SceneHeader } from "../../api/client";
import { dropTryOuts, useKeyState } from "../../state/keying";
import { closeScene, useOpenScene } from "../../state/openScene";
import { giveValue, keyEdit } from "./edits";

const at = (...frames: number[]) => ({ keys: frames.map((frame) => ({ frame, value: 0 })) });
const turn = (more: object) => ({ id: "rotation.z", name: "rotation.z", locked: false, curve: null, on_layers: {}, ...more }) as unknown as ChannelView;
const usual = useKeyState.getState();

beforeEach(() => { useOpenScene.setState({ header: { layers: [{ id: "l1" }], driven: [] } as unknown as SceneHeader }); });
afterEach(() => {
  dropTryOuts();
  useKeyState.setState(usual, true);
  closeScene();
});

it("keys what is not keyed on this frame, and takes the keys away where all are", () => {
  const some: [string, ChannelView][] = [["p1", turn({ curve: at(4) })], ["p2", turn({ curve: at(5) })]];
  expect(keyEdit(some, 4)).toEqual({ do: "key channels", frame: 4, channels: [["p1", "rotation.z"], ["p2", "rotation.z"]], layer: null });
  const all: [string, ChannelView][] = [["p1", turn({ curve: at(4, 5) })], ["p2", turn({ curve: at(5) })]];
  expect(keyEdit(all, 5)).toEqual({ do: "delete keys", picks: [{ part: "p1", channel: "rotation.z", frames: [5] }, { part: "p2", channel: "rotation.z", frames: [5] }] });
});

it("looks at the layer that keys go to, not at the channel's own curve", () => {
  useKeyState.setState({ layer: "l1" });
  const channel = turn({ curve: at(4), on_layers: { l1: at(9) } });
  expect(keyEdit([["p1", channel]], 4)).toMatchObject({ do: "key channels", layer: "l1" });
  expect(keyEdit([["p1", channel]], 9)).toEqual({ do: "delete keys", picks: [{ part: "p1", channel: "l1:rotation.z", frames: [9] }] });
});

it("saves a value by hand as one edit for all channels, or only tries it", () => {
  const saved: OneEdit[] = [];
  const edit = (...edits: OneEdit[]) => {
    saved.push(...edits);
    return Promise.resolve(true);
  };
  const alike: [string, ChannelView][] = [["p1", turn({})], ["p2", turn({})]];
  giveValue(edit, alike, 7, 30);
  expect(saved).toEqual([{ do: "set channels", frame: 7, values: [["p1", "rotation.z", 30], ["p2", "rotation.z", 30]] }]);
  useKeyState.setState({ autoKey: "off" });
  giveValue(edit, alike, 8, 40);
  expect(saved).toHaveLength(1);
  expect(useKeyState.getState().tryOuts.map(({ part, frame, value }) => [part, frame, value])).toEqual([["p1", 8, 40], ["p2", 8, 40]]);
});
