// @vitest-environment happy-dom
import { QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { createRoot } from "react-dom/client";
import { expect, it, vi } from "vitest";

import { queryClient } from "../api/queryClient";
import { closeScene, useOpenScene } from "./openScene";
import { useLoadedScene } from "./scene";

function Page({ sceneId }: { sceneId: number }) {
  useLoadedScene(sceneId);
  return null;
}

it("opens the scene that is looked at, and none that was left while it was loaded", async () => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  const answers = new Map<string, (response: Response) => void>();
  vi.stubGlobal("fetch", (path: string) => new Promise<Response>((answer) => { answers.set(path, answer); }));
  const answer = async (id: number) => {
    const { header } = useOpenScene.getInitialState();
    const view = { header: { ...header, id, revision: id }, order: [], parts: [], whole: true };
    await act(async () => {
      answers.get(`/api/scenes/${String(id)}`)?.(new Response(JSON.stringify(view)));
      for (let n = 0; n < 4; n += 1) await new Promise((done) => { setTimeout(done); });
    });
  };
  const root = createRoot(document.createElement("div"));
  const visit = (id: number) => act(() => { root.render(<QueryClientProvider client={queryClient}><Page key={id} sceneId={id} /></QueryClientProvider>); });
  await visit(31);
  await visit(32);
  await answer(32);
  await answer(31);
  expect(useOpenScene.getState().sceneId).toBe(32);
  await act(() => { root.unmount(); });
  closeScene();
  vi.unstubAllGlobals();
});
