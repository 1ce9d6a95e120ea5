// @vitest-environment happy-dom
import { QueryClientProvider } from "@tanstack/react-query";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { Probe } from "../../api/client";
import { queryClient } from "../../api/queryClient";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { standIn } from "../../state/server.testing";
import { ProbeForm } from "./SlipProbes";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const stands = "Frames on which sole stands";
const probe = { id: "q1", name: "sole", part: "p1", point: [0, -1, 0], rolling: false, ground: "p2", stands: [[3, 9], [12, 12]] } as unknown as Probe;

async function shown(rolling: boolean) {
  useOpenScene.setState({ sceneId: 7, header: { ...useOpenScene.getState().header, probes: [{ ...probe, rolling }] } });
  hand.show(<QueryClientProvider client={queryClient}><ProbeForm id="q1" /></QueryClientProvider>);
  await server.settled();
}

async function put(text: string) {
  hand.fill(stands, text);
  hand.press("Enter");
  await server.settled();
}

beforeEach(() => {
  server = standIn();
  server.answer("slip", { sum: 0, worst: 0, worst_frame: 0, first: 0, amounts: [0, 0.1] });
  hand = page();
});
afterEach(() => {
  hand.close();
  queryClient.clear();
  closeScene();
  vi.unstubAllGlobals();
});

it("takes the frames on which a point stands, and leaves all else as it is", async () => {
  await shown(false);
  expect(hand.field(stands).value).toBe("3 … 9, 12");
  await put("20-30, 4");
  expect(server.edits()).toEqual([{ do: "put probe", id: "q1", name: "sole", part: "p1", point: [0, -1, 0], rolling: false, ground: "p2", stands: [[20, 30], [4, 4]] }]);
});

it("sends nothing that cannot be read, says why, and keeps it to be mended", async () => {
  await shown(false);
  await put("all of it");
  expect([server.edits(), hand.field(stands).value]).toEqual([[], "all of it"]);
  expect(hand.said()).toContain("write frames such as 10 … 20");
});

it("asks nothing of the kind where the part rolls", async () => {
  await shown(true);
  expect([hand.has(stands), hand.has("sole y")]).toEqual([false, true]);
});
