// @vitest-environment happy-dom
import { QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { createRoot } from "react-dom/client";
import { expect, it, vi } from "vitest";

import { AGAIN, queryClient } from "../api/queryClient";
import { closeScene, useOpenScene } from "./openScene";
import { useAbout } from "./order";
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

function Words() {
  const { data, error } = useAbout<{ word: string }>("word");
  return <p>{data?.word ?? error?.message}</p>;
}

it("asks again for what failed while the server was away, and not for what it refuses", async () => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  vi.useFakeTimers();
  const answers = [
    () => Promise.reject(new TypeError("nobody there")),
    () => Promise.resolve(new Response(JSON.stringify({ error: "the database is away" }), { status: 503 })),
    () => Promise.resolve(new Response(JSON.stringify({ error: "there is no such word" }), { status: 422 })),
  ];
  const fetched = vi.fn((): Promise<Response> => (answers.shift() ?? (() => Promise.resolve(new Response(JSON.stringify({ word: "bollard" })))))());
  vi.stubGlobal("fetch", fetched);
  const page = document.createElement("div");
  const root = createRoot(page);
  const passing = (time: number) => act(() => vi.advanceTimersByTimeAsync(time));
  await act(() => { root.render(<QueryClientProvider client={queryClient}><Words /></QueryClientProvider>); });
  await passing(20);
  expect(page.textContent).toBe("nobody there");
  await passing(AGAIN + 20);
  expect(page.textContent).toBe("the database is away");
  await passing(AGAIN + 20);
  await passing(5 * AGAIN);
  expect([page.textContent, fetched.mock.calls.length]).toEqual(["there is no such word", 3]);
  await act(() => { root.unmount(); });
  vi.useRealTimers();
  vi.unstubAllGlobals();
});
