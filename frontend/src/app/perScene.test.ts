import { afterEach, beforeEach, expect, it } from "vitest";

import { useComparing } from "../time/compare/comparison";
import { useWiring } from "../wiring/state";
import { useSides } from "../wiring/whatif/sides";
import { chooseFinding, useLooking } from "../state/checks";
import { toggleCurve, useCurveSet } from "../state/curveSet";
import { beginEditing, useEditing } from "../state/editing";
import { addTryOuts, useKeyState } from "../state/keying";
import { openForm, useKit } from "../state/kit";
import { toggleLeading, useLeading } from "../state/leading";
import { enterScene } from "../state/perScene";
import { goTo, setRange, usePlayer } from "../state/player";
import { poseStop, setDraft, usePosing } from "../state/posing";
import { feed } from "../state/samples";
import { hideParts, isolateParts, useShowing } from "../state/showing";
import { chooseSurface, useLooked } from "../state/surfaces";
import { showFrames, useTimeWindow } from "../state/timeWindow";

// All that speaks of a scene's own parts, channels, steps, layers, sets, frames or revisions.
const stores = { useComparing, useCurveSet, useEditing, useKeyState, useKit, useLeading, useLooked, useLooking, usePlayer, usePosing, useShowing, useSides, useTimeWindow, useWiring };
const now = () => Object.fromEntries(Object.entries(stores).map(([name, store]) => [name, store.getState()]));

function workIn() {
  useComparing.setState({ what: "channel", other: { part: "p1", channel: "size" } });
  toggleCurve("p1/size");
  beginEditing("s1");
  useKeyState.setState({ layer: "l1", scope: "set:g1" });
  addTryOuts([{ part: "p1", channel: "size", frame: 4, value: 2 }]);
  openForm("gaits", "w1");
  toggleLeading("e1");
  chooseSurface("f1", 3);
  chooseFinding("a finding");
  setRange({ first: 0, last: 90, fps: 24 });
  goTo(44);
  setDraft("d1", 10, { "p1/size": 1 });
  usePosing.setState({ driven: "d1" });
  poseStop(10);
  hideParts(["p1"]);
  isolateParts(["p2"]);
  useShowing.setState(({ pathsIn }) => ({ pathsIn: { ...pathsIn, space: "p1" } }));
  useSides.setState({ touched: true, one: { kind: "revision", revision: 4 }, channels: ["p1/size"] });
  showFrames([3, 9]);
  useWiring.setState({ reach: "feeds", folded: ["p1"] });
}

beforeEach(() => {
  enterScene(1);
});
afterEach(() => {
  enterScene(0);
  setRange({ first: 0, last: 0, fps: 24 });
});

it("forgets in another scene what belongs to this one, and tries no more of it", () => {
  const fresh = now();
  workIn();
  const worked = now();
  for (const name of Object.keys(stores)) expect([name, worked[name]]).not.toEqual([name, fresh[name]]);
  enterScene(2);
  expect(now()).toEqual(fresh);
  expect(feed.allTried()).toEqual([]);
});

it("keeps everything for who comes back to the same scene", () => {
  workIn();
  const worked = now();
  enterScene(1);
  expect(now()).toEqual(worked);
});

it("keeps how one likes to work", () => {
  useKeyState.setState({ autoKey: "always", scope: "rotation" });
  useShowing.setState({ grid: false, tool: "turn" });
  useComparing.setState({ slope: true });
  enterScene(2);
  expect([useKeyState.getState().autoKey, useKeyState.getState().scope, useShowing.getState().grid, useShowing.getState().tool, useComparing.getState().slope]).toEqual(["always", "rotation", false, "turn", true]);
  useKeyState.setState({ autoKey: "where keyed", scope: "channel" });
  useShowing.setState({ grid: true, tool: "none" });
  useComparing.setState({ slope: false });
});
