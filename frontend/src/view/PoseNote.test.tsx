// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { SceneHeader } from "../api/client";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { chooseDriven, poseStop, setDraft, tryDriver, usePosing } from "../state/posing";
import { feed } from "../state/samples";
import { standIn } from "../state/server.testing";
import { PosingBanner } from "./PoseNote";

let hand: ReturnType<typeof page>;
const said = () => document.querySelector("[role=status]")?.textContent ?? null;

beforeEach(() => {
  standIn();
  useOpenScene.setState(({ header }) => ({ sceneId: 7, header: { ...header, driven: [{ id: "d1", name: "gangway", stops: [0, 6], rows: [] }] } as unknown as SceneHeader }));
  hand = page();
  hand.show(<PosingBanner />);
  act(() => { chooseDriven("d1"); });
});
afterEach(() => {
  act(() => { chooseDriven(null); });
  usePosing.setState({ drafts: {} });
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("says that a driver is tried, wherever its curves are seen, and ends that", () => {
  expect(said()).toBeNull();
  act(() => { tryDriver(2.5); });
  expect(said()).toContain("The driver of gangway is tried at 2.50");
  expect(feed.allTried()).toHaveLength(1);
  hand.click("End trying");
  expect([said(), feed.allTried()]).toEqual([null, []]);
});

it("leaves a stop with all that is tried for it, and holds its pose", () => {
  act(() => { poseStop(6); setDraft("d1", 6, { "p1/size": 2 }); });
  expect(said()).toContain("Posing the stop 6 of gangway");
  expect(feed.allTried()).toHaveLength(2);
  hand.click("Leave");
  expect([said(), feed.allTried()]).toEqual([null, []]);
  expect(usePosing.getState().drafts).toEqual({ "d1@6": { "p1/size": 2 } });
});
