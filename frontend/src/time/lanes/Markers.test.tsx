// @vitest-environment happy-dom
import { scaleLinear } from "d3-scale";
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { goTo, setRange, usePlayer } from "../../state/player";
import { usePopup } from "../../state/popup";
import { standIn } from "../../state/server.testing";
import { MarkerForm, Markers } from "./Markers";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const done = vi.fn();
const marker = (id: string, label: string, frame: number) => ({ id, label, frame });
beforeEach(() => {
  server = standIn();
  useOpenScene.setState(({ header }) => ({ sceneId: 7, header: { ...header, first: 0, last: 100, markers: [marker("m1", "landing", 40), marker("m2", "far", 160)] } }));
  setRange({ first: 0, last: 100, fps: 24 });
  goTo(12);
  hand = page();
  done.mockClear();
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); });
  hand.close();
  setRange({ first: 0, last: 0, fps: 24 });
  closeScene();
  vi.unstubAllGlobals();
});

it("goes to a marker and opens its form; markers outside what is seen are not drawn", async () => {
  hand.show(<Markers x={scaleLinear([0, 100], [0, 1000])} width={1000} />);
  expect([hand.said().includes("landing"), hand.said().includes("far")]).toEqual([true, false]);
  act(() => { document.querySelector<HTMLElement>("[title='landing, frame 40']")?.click(); });
  expect(usePlayer.getState().frame).toBe(40);
  hand.fill("Frame of the marker", "40 + 4");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "put marker", text: "landing", frame: 44, id: "m1" }]);
  expect(usePopup.getState().open).toBeNull();
});

it("makes a marker on the playhead, once it has a label and a frame", async () => {
  hand.show(<MarkerForm onDone={done} />);
  hand.enter("Label of the marker");
  hand.press("Enter");
  hand.fill("Label of the marker", "push off");
  hand.fill("Frame of the marker", "soon");
  hand.press("Enter");
  await server.settled();
  expect([server.edits(), done.mock.calls.length]).toEqual([[], 0]);
  hand.fill("Frame of the marker", "12.5");
  hand.click("Add");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "put marker", text: "push off", frame: 12.5, id: null }]);
  expect(done).toHaveBeenCalledOnce();
});

it("stays open where it is refused, and deletes", async () => {
  hand.show(<MarkerForm marker={marker("m1", "landing", 40)} onDone={done} />);
  server.refuse("a label is one line");
  hand.click("Change");
  await server.settled();
  expect(done).not.toHaveBeenCalled();
  hand.click("Delete");
  await server.settled();
  expect([server.edits().at(-1), done.mock.calls.length]).toEqual([{ do: "remove marker", id: "m1" }, 1]);
});
