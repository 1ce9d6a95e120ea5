import { afterEach, beforeEach, expect, it } from "vitest";

import type { OneEdit, PartView, SceneHeader } from "../../api/client";
import { useKeyState } from "../../state/keying";
import { closeScene, useOpenScene } from "../../state/openScene";
import { goTo, setRange } from "../../state/player";
import { chooseChannel, chooseKeys, choosePart } from "../../state/selection";
import { chosenPicks, keyCommands, movedPicks, pickedWords, spanOf } from "./keyCommands";

const curve = (...frames: number[]) => ({ keys: frames.map((frame) => ({ frame, value: 0 })) });
const usual = useKeyState.getState();

beforeEach(() => {
  const channels = [
    { id: "rotation.z", name: "rotation.z", locked: false, curve: curve(2, 8, 14), on_layers: { l1: curve(5) } },
    { id: "translation.x", name: "translation.x", locked: false, curve: null, on_layers: {} },
  ];
  useOpenScene.setState({
    header: { first: 0, last: 40, layers: [{ id: "l1" }], sets: [] } as unknown as SceneHeader,
    order: ["p1"],
    parts: { p1: { id: "p1", name: "arm", steps: [], channels } as unknown as PartView },
  });
  setRange({ first: 0, last: 40, fps: 24 });
  chooseChannel("p1", "rotation.z");
});
afterEach(() => {
  useKeyState.setState(usual, true);
  choosePart(null);
  closeScene();
  setRange({ first: 0, last: 0, fps: 24 });
});

function done(name: string): OneEdit {
  const edits: OneEdit[] = [];
  const commands = keyCommands((...made) => {
    edits.push(...made);
    return Promise.resolve(true);
  });
  commands.find((one) => one.name === name)?.run();
  expect(edits).toHaveLength(1);
  return edits[0] as OneEdit;
}

it("works on the chosen keys, else on those of the key scope, on the layer that keys go to", () => {
  expect(chosenPicks()).toEqual([{ part: "p1", channel: "rotation.z", frames: null }]);
  expect([pickedWords(), spanOf(chosenPicks())]).toEqual(["3 keys of the key scope", [2, 14]]);
  useKeyState.setState({ layer: "l1" });
  expect(chosenPicks()).toEqual([{ part: "p1", channel: "l1:rotation.z", frames: null }]);
  expect([pickedWords(), spanOf(chosenPicks())]).toEqual(["1 key of the key scope", [5, 5]]);
  chooseKeys([{ part: "p1", channel: "rotation.z", frames: [8, 14] }]);
  expect([pickedWords(), spanOf(chosenPicks())]).toEqual(["2 keys", [8, 14]]);
});

it("says so where there are no keys to work on", () => {
  chooseChannel("p1", "translation.x");
  expect(chosenPicks()).toEqual([]);
  expect(pickedWords()).toContain("no keys: choose some");
  expect(spanOf([])).toEqual([0, 40]);
});

it("reverses about the middle of the keys, and copies them so that the first lands on the playhead", () => {
  const picks = [{ part: "p1", channel: "rotation.z", frames: [8, 14] }];
  chooseKeys(picks);
  expect(done("Reverse in time")).toEqual({ do: "scale time", picks, about: 11, factor: -1 });
  goTo(30);
  expect(done("Copy keys to the playhead")).toEqual({ do: "move keys", picks, frames: 22, copy: true });
  expect(done("Nudge a frame earlier")).toEqual({ do: "move keys", picks, frames: -1 });
  expect(done("Smooth the holds")).toEqual({ do: "set interpolation", picks, interpolation: "smooth", smart: true });
  expect(done("Tangents: break")).toEqual({ do: "set tangents", picks, change: "break" });
  expect(movedPicks(picks, 22)[0]?.frames).toEqual([30, 36]);
});
