// @vitest-environment happy-dom
import { QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { queryClient } from "../api/queryClient";
import { page } from "../shared/page.testing";
import type { CheckView, ChecksView } from "../state/checks";
import { useChecks, useLooking } from "../state/checks";
import { closeScene, useOpenScene } from "../state/openScene";
import { usePopup } from "../state/popup";
import { standIn } from "../state/server.testing";
import { CheckList } from "./CheckList";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const threshold = (key: string, value: number) => ({ key, value, default: 5, unit: "mm", words: `over {} ${key}` });
const check = { name: "slip", why: "Feet that slide.", severity: "wrong", on: true, thresholds: [threshold("way", 5), threshold("speed", 7)] } as unknown as CheckView;
const view = (...checks: CheckView[]) => ({ revision: 1, checks, findings: [], accepted: [] }) as unknown as ChecksView;
const type = async (label: string, text: string) => {
  hand.fill(label, text);
  hand.press("Enter");
  await server.settled();
};

function List() {
  const { data } = useChecks();
  return data ? <CheckList view={data} /> : null;
}

beforeEach(async () => {
  server = standIn();
  server.answer("checks", view(check));
  useOpenScene.setState({ sceneId: 7 });
  hand = page();
  hand.show(<QueryClientProvider client={queryClient}><List /></QueryClientProvider>);
  await server.settled();
  hand.click("Settings of slip");
  await server.settled();
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); useLooking.setState({ check: null }); });
  hand.close();
  queryClient.clear();
  closeScene();
  vi.unstubAllGlobals();
});

it("shows a setting at once, and keeps it in the next one though nothing was looked for anew", async () => {
  await type("slip: way", "12");
  await type("slip: speed", "9");
  act(() => { document.querySelector<HTMLElement>("[data-popup] input[type=checkbox]")?.click(); });
  await server.settled();
  expect(server.edits()).toEqual([
    { do: "set check", check: "slip", on: true, limits: [["way", 12], ["speed", 7]] },
    { do: "set check", check: "slip", on: true, limits: [["way", 12], ["speed", 9]] },
    { do: "set check", check: "slip", on: false, limits: [["way", 12], ["speed", 9]] },
  ]);
  expect(hand.said()).toContain("off");
});

it("is as it was where the setting is refused", async () => {
  server.refuse("it cannot be negative.");
  await type("slip: way", "-1");
  expect(hand.field("slip: way").value).toBe("5");
});
