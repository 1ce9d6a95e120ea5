// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { ChannelView, PartView } from "../../api/client";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { usePopup } from "../../state/popup";
import { choosePart, useSelection } from "../../state/selection";
import { standIn } from "../../state/server.testing";
import { AddChannel, ChannelTools } from "./OwnChannels";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const own = (id: string, name: string, more: object = {}) => ({ id, name, kind: "number", default: 0.5, low: 0, high: null, unit: "m", options: [], shows: "nothing", locked: false, ...more }) as unknown as ChannelView;
const channels = [own("translation.x", "translation.x"), own("c1", "lift"), own("c2", "sway", { locked: true })];

beforeEach(() => {
  server = standIn();
  useOpenScene.setState({ sceneId: 7, order: ["p1"], parts: { p1: { id: "p1", name: "hull", channels } as unknown as PartView } });
  hand = page();
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); choosePart(null); });
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("makes a channel: no limit where none is typed, sums where one is", async () => {
  hand.show(<AddChannel partId="p1" />);
  hand.click("Add…");
  hand.fill("name", "  reach ");
  hand.fill("from", "-1/4");
  hand.fill("unit", " m ");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "add channel", kind: "number", part: "p1", name: "reach", default: 0, low: -0.25, high: null, unit: "m", shows: "nothing", options: [] }]);
  expect(usePopup.getState().open).toBeNull();
});

it("sends nothing while a number cannot be read, and keeps what a refusal is about", async () => {
  hand.show(<AddChannel partId="p1" />);
  hand.click("Add…");
  hand.fill("name", "reach");
  hand.fill("to", "about 3");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toEqual([]);
  hand.fill("to", "3");
  server.refuse("there is a channel of that name");
  hand.press("Enter");
  await server.settled();
  expect([hand.field("name").value, hand.said().includes("there is a channel of that name")]).toEqual(["reach", true]);
});

it("changes a channel from what it is, and chooses it", async () => {
  hand.show(<ChannelTools partId="p1" channel={own("c1", "lift")} />);
  hand.click("Change…");
  expect(["name", "default", "from", "to", "unit"].map((label) => hand.field(label).value)).toEqual(["lift", "0.5", "0", "", "m"]);
  hand.fill("to", "2");
  hand.click("Change");
  await server.settled();
  expect(server.edits()).toMatchObject([{ do: "change channel", part: "p1", channel: "c1", name: "lift", default: 0.5, low: 0, high: 2 }]);
  expect(useSelection.getState()).toMatchObject({ part: "p1", channel: "c1" });
});

it("moves among own channels, not past their ends; those of the part itself are only locked", async () => {
  const waits = (label: string) => (hand.labelled(label) as HTMLButtonElement).disabled;
  hand.show(<ChannelTools partId="p1" channel={own("c1", "lift")} />);
  expect([waits("Move lift up"), waits("Move lift down")]).toEqual([true, false]);
  hand.click("Move lift down");
  hand.show(<ChannelTools partId="p1" channel={own("c2", "sway", { locked: true })} />);
  expect([waits("Move sway up"), waits("Move sway down")]).toEqual([false, true]);
  hand.click("Unlock");
  hand.click("Delete sway");
  hand.show(<ChannelTools partId="p1" channel={own("translation.x", "translation.x")} />);
  expect([hand.has("Delete translation.x"), hand.said().includes("Change…")]).toEqual([false, false]);
  hand.click("Lock");
  await server.settled();
  expect(server.edits()).toEqual([
    { do: "move channel", part: "p1", channel: "c1", position: 1 },
    { do: "lock channels", part: "p1", channels: ["c2"], locked: false },
    { do: "remove channel", part: "p1", channel: "c2" },
    { do: "lock channels", part: "p1", channels: ["translation.x"], locked: true },
  ]);
});
