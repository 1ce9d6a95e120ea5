// @vitest-environment happy-dom
import { QueryClientProvider } from "@tanstack/react-query";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { queryClient } from "../api/queryClient";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { standIn } from "../state/server.testing";
import { TopBar } from "./TopBar";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const told = () => [...document.querySelectorAll(".ant-message-notice")].map(({ textContent }) => textContent);

beforeEach(() => {
  server = standIn();
  server.answer("checks", { findings: [] });
  useOpenScene.setState(({ header }) => ({ sceneId: 7, header: { ...header, name: "Ferry", undo: "delete mast", redo: null } }));
  hand = page();
  hand.show(<QueryClientProvider client={queryClient}><MemoryRouter><TopBar view="bench" /></MemoryRouter></QueryClientProvider>);
});
afterEach(() => {
  hand.close();
  closeScene();
  queryClient.clear();
  vi.unstubAllGlobals();
});

it("tells the last thing that was taken back, once, however fast", async () => {
  for (let n = 0; n < 3; n += 1) {
    hand.press("z", { ctrlKey: true });
    await server.settled();
  }
  expect(server.asked.filter(({ path }) => path.endsWith("/undo"))).toHaveLength(3);
  expect(told()).toEqual(["undo"]);
});
