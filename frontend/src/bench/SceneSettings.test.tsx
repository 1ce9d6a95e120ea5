// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { usePopup } from "../state/popup";
import { standIn } from "../state/server.testing";
import { SceneSettings } from "./SceneSettings";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;

beforeEach(async () => {
  server = standIn();
  useOpenScene.setState(({ header }) => ({ sceneId: 7, header: { ...header, name: "Ferry", first: 0, last: 60, fps: 24 } }));
  hand = page();
  hand.show(<SceneSettings />);
  hand.click("Scene settings");
  await server.settled();
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); });
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("takes a name on Enter and when it is left, and puts it back on Esc", async () => {
  for (const [text, key] of [["Mill", "Enter"], ["Weir", "Tab"], ["Lock", "Escape"]] as const) {
    hand.fill("Name of the scene", text);
    hand.press(key);
    if (key === "Tab") hand.leave();
    await server.settled();
  }
  expect(server.edits()).toEqual([{ do: "change scene", name: "Mill" }, { do: "change scene", name: "Weir" }]);
  expect(hand.field("Name of the scene").value).toBe("Ferry");
});

it("takes whole frames, and a rate that keeps times or frames", async () => {
  const type = async (label: string, text: string) => {
    hand.fill(label, text);
    hand.press("Enter");
    await server.settled();
  };
  await type("Last frame", "99.6");
  await type("Frames a second", "30");
  act(() => { document.querySelector<HTMLElement>("[aria-label='What a new rate keeps'] label:last-child")?.click(); });
  await type("Frames a second", "25");
  expect(server.edits()).toEqual([{ do: "change scene", last: 100 }, { do: "change rate", fps: 30 }, { do: "change scene", fps: 25 }]);
});
