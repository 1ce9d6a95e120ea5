import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { useOpenScene } from "./openScene";
import { chooseDriven, chosenDraft, holdForStop, poseStop, setDraft, tryDriver, usePosing } from "./posing";
import { feed } from "./samples";

const set = {
  id: "d1",
  name: "lower",
  driver: "{ferry.landing}",
  low: 0,
  high: 10,
  stops: [0, 6, 10],
  rows: [{ row: "s1", part: "p2", channel: "rotation.z" }],
};

describe("posing stops", () => {
  const tried = vi.spyOn(feed, "keepTrying").mockImplementation(() => undefined);
  const last = () => tried.mock.calls.at(-1)?.[1] ?? [];

  beforeEach(() => {
    useOpenScene.setState(({ header }) => ({ header: { ...header, driven: [set] } }));
    chooseDriven("d1");
  });
  afterEach(() => {
    usePosing.setState({ driven: null, at: null, stop: null, drafts: {} });
    tried.mockClear();
  });

  it("tries a driver value and ends that", () => {
    tryDriver(4.2);
    expect(last()).toEqual([{ do: "change driven keys", driven: "d1", driver: "4.2" }]);
    tryDriver(null);
    expect(last()).toEqual([]);
  });

  it("holds what rows are given for the posed stop, and nothing else", () => {
    expect(holdForStop("p2", "rotation.z", 5)).toBe(false);
    poseStop(6);
    expect(holdForStop("p2", "rotation.z", 5)).toBe(true);
    expect(holdForStop("p2", "rotation.x", 5)).toBe(false);
    expect(last().map((edit) => edit.do)).toEqual(["capture stop", "change driven keys"]);
    expect(last()[0]).toMatchObject({ stop: 6, values: [["p2", "rotation.z", 5]] });
  });

  it("loses no pose by choosing another stop, driver value or set", () => {
    poseStop(6);
    holdForStop("p2", "rotation.z", 5);
    poseStop(10);
    expect(chosenDraft(usePosing.getState())).toEqual({});
    holdForStop("p2", "rotation.z", 9);
    tryDriver(3);
    chooseDriven(null);
    chooseDriven("d1");
    poseStop(6);
    expect(chosenDraft(usePosing.getState())).toEqual({ "p2/rotation.z": 5 });
    setDraft("d1", 6, {});
    expect(Object.keys(usePosing.getState().drafts)).toEqual(["d1@10"]);
  });

  it("tries nothing of a set that is gone", () => {
    poseStop(6);
    useOpenScene.setState(({ header }) => ({ header: { ...header, driven: [] } }));
    tryDriver(3);
    expect(last()).toEqual([]);
  });
});
