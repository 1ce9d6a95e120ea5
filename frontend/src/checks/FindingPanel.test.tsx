// @vitest-environment happy-dom
import { act } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView } from "../api/client";
import type { FindingDetails, FindingView, OfferView, TriedView } from "../state/checks";
import { useLooking } from "../state/checks";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { usePopup } from "../state/popup";
import { standIn } from "../state/server.testing";
import { FindingPanel } from "./FindingPanel";

vi.mock("../view/View3D", () => ({ View3D: () => null }));

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const finding = (id: string, more: object = {}) => ({ id, check: "slip", severity: "wrong", part: "p1", channel: "turn", what: "", cause: "", text: "The wheel slips.", amount: 0.2, spans: [[10, 20], [40, 44]], accepted: null, ...more }) as unknown as FindingView;
const value = (to: number) => ({ do: "set value" as const, part: "p1", channel: "turn", value: to });
const offer = (kind: string, ...edits: ReturnType<typeof value>[]) => ({ kind, text: `By ${kind}`, cost: "", edits }) as unknown as OfferView;
const details = (one: FindingView, ...offers: OfferView[]) => ({ finding: one, ways: [], offers }) as unknown as FindingDetails;
const tried = (more: object) => ({ left: null, gone: 1, new: [], moved: [], ...more }) as unknown as TriedView;
const show = (what: FindingDetails, more: { tried?: TriedView; problem?: Error; alike?: FindingView[] } = {}) => {
  hand.show(<MemoryRouter><FindingPanel details={what} tried={more.tried} problem={more.problem ?? null} alike={more.alike ?? []} /></MemoryRouter>);
};

beforeEach(() => {
  server = standIn();
  useOpenScene.setState({ sceneId: 7, order: ["p1"], parts: { p1: { id: "p1", name: "wheel", channels: [], steps: [] } as unknown as PartView } });
  hand = page();
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); useLooking.setState({ finding: null, offer: null, check: null, mine: false }); });
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("says where it is, and what a remedy would do before it is applied", () => {
  show(details(finding("a"), offer("a formula", value(1)), offer("keys", value(2))));
  expect(hand.said()).toContain("wheel · 10 … 44");
  hand.click("1 · By a formula");
  expect(useLooking.getState().offer).toBe(0);
  show(details(finding("a"), offer("a formula", value(1))), { tried: tried({ gone: 3, new: ["a jump"], moved: ["hull", "mast", "sail"] }) });
  for (const words of ["It is found no more.", "3 findings go in all.", "New: a jump", "hull and 2 more parts move otherwise."]) expect(hand.said()).toContain(words);
  show(details(finding("a"), offer("a formula", value(1))), { tried: tried({ left: "0.1 m" }) });
  expect([hand.said().includes("Left: 0.1 m"), hand.said().includes("Nothing moves otherwise.")]).toEqual([true, true]);
  hand.click("1 · By a formula");
  expect(useLooking.getState().offer).toBeNull();
});

it("applies a remedy, and lets go of it only where it is taken", async () => {
  act(() => { useLooking.setState({ offer: 0 }); });
  show(details(finding("a"), offer("a formula", value(1))));
  server.refuse("the channel is locked");
  hand.click("Apply");
  await server.settled();
  expect([useLooking.getState().offer, hand.said().includes("the channel is locked")]).toEqual([0, true]);
  hand.click("Apply");
  await server.settled();
  expect([useLooking.getState().offer, server.edits()]).toEqual([null, [value(1), value(1)]]);
});

it("applies one kind of remedy to all alike as one edit, each change once", async () => {
  act(() => { useLooking.setState({ offer: 0 }); });
  server.answer("finding", details(finding("b"), offer("keys", value(8)), offer("a formula", value(1), value(3))));
  show(details(finding("a"), offer("a formula", value(1))), { alike: [finding("b"), finding("c")] });
  hand.click("Apply 1 to all 3");
  await server.settled();
  expect(server.questions("finding").map(({ path }) => path.split("id=")[1])).toEqual(["b", "c"]);
  expect(server.asked.filter(({ path }) => path.endsWith("/edits")).map(({ body }) => body.edits)).toEqual([[value(1), value(3)]]);
});

it("leaves a finding as it is for a reason, never without one", async () => {
  show(details(finding("a")));
  expect(hand.said()).toContain("No remedy by itself");
  hand.click("Accept…");
  await server.settled();
  hand.fill("Reason", "  ");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toEqual([]);
  hand.type("it skids on purpose");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "accept finding", check: "slip", part: "p1", what: "", cause: "", reason: "it skids on purpose", amount: 0.2, span: [10, 44] }]);
  show(details(finding("a", { accepted: "c1", spans: [] })));
  expect(hand.said()).toContain("accepted");
});
