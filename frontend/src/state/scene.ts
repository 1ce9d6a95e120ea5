import { useQuery } from "@tanstack/react-query";

import { takeView, useOpenScene } from "./openScene";
import { rebased } from "./rebase";
import { feed, headerOf, useSamples } from "./samples";
import { untilAnswered } from "./waiting";
import type { Edits, LedgerView, OneEdit, SceneView } from "../api/client";
import { get, postFile, postForBinary, Refused, post } from "../api/client";
import { againWhenFailed, queryClient } from "../api/queryClient";

const path = (sceneId: number) => `/api/scenes/${String(sceneId)}`;

/** Loads a scene and opens it; from then on edits keep it up to date. */
export function useLoadedScene(sceneId: number) {
  return useQuery({
    queryKey: ["scene", sceneId],
    queryFn: async () => {
      const view = await get<SceneView>(path(sceneId));
      accept(sceneId, view);
      return view.header.revision;
    },
    gcTime: 0,
    refetchInterval: againWhenFailed,
  });
}

/** Takes back the last edit of a scene that cannot be shown. */
export async function undoUnseen(sceneId: number): Promise<void> {
  const { revision } = await get<{ revision: number }>(`${path(sceneId)}/revision`);
  await post(`${path(sceneId)}/undo`, { revision });
  await queryClient.invalidateQueries({ queryKey: ["scene", sceneId] });
}

/** The account of a channel; the one before stays until the new one is there. */
export function useLedger(sceneId: number, part: string, channel: string) {
  return useQuery({
    queryKey: ["ledger", sceneId, part, channel],
    queryFn: () => {
      const query = new URLSearchParams({ part, channel });
      return get<LedgerView>(`${path(sceneId)}/ledger?${query.toString()}`);
    },
    staleTime: Infinity,
  });
}

/** Sends what changes the scene; the answer brings the change and all shown numbers at once. */
async function send(sceneId: number, way: string, body: object) {
  const { blocks } = useSamples.getState();
  const buffer = await postForBinary(`${path(sceneId)}/${way}`, { ...body, shown: feed.shown() });
  const { view } = headerOf(buffer);
  feed.takeWithEdit(buffer, blocks);
  if (view) takeView(sceneId, view);
  void queryClient.invalidateQueries({ queryKey: ["ledger", sceneId] });
  return view;
}

function accept(sceneId: number, view: SceneView) {
  feed.moveTo(view.header.revision);
  takeView(sceneId, view);
  void queryClient.invalidateQueries({ queryKey: ["ledger", sceneId] });
}

let line: Promise<unknown> = Promise.resolve();
let sending = 0;

/** Whether an edit of this tab is under way. */
export function isSending(): boolean {
  return sending > 0;
}

/** Puts work behind the edits that are under way, so that each sees the revision before it. */
function inLine<T>(work: () => Promise<T>): Promise<T> {
  sending += 1;
  const done = line.then(work, work);
  line = done.catch(() => undefined).finally(() => { sending -= 1; });
  return done;
}

/** Sends edits; resolves when they are stored. A refusal changes nothing. */
export function sendEdits(sceneId: number, edits: OneEdit[]): Promise<void> {
  const seen = useOpenScene.getState();
  return inLine(async () => {
    const now = useOpenScene.getState();
    const made = now === seen || now.sceneId !== sceneId ? edits : edits.map((edit) => rebased(edit, seen, now));
    const body: Edits = { revision: now.header.revision, edits: made };
    try {
      await untilAnswered(sceneId, body.revision, () => send(sceneId, "edits", body));
    } catch (error) {
      // Somebody else was faster: show what they did, and let the person decide.
      const stale = error instanceof Refused && error.problem.revision != null;
      if (stale) await queryClient.invalidateQueries({ queryKey: ["scene", sceneId] });
      throw error;
    }
  });
}

/** Gives parts of the scene the motion of a file's parts of the same names, as one edit. */
export function takeIn(sceneId: number, file: File, wish: Record<string, string>): Promise<void> {
  return inLine(async () => {
    const query = new URLSearchParams({ file: file.name, revision: String(useOpenScene.getState().header.revision), ...wish });
    accept(sceneId, await postFile<SceneView>(`${path(sceneId)}/take-in?${query.toString()}`, file));
  });
}

/** Takes the newest edit back, or does it again. Resolves to what was done. */
export function retrace(sceneId: number, way: "undo" | "redo"): Promise<string> {
  return inLine(async () => {
    try {
      const body = { revision: useOpenScene.getState().header.revision };
      return (await untilAnswered(sceneId, body.revision, () => send(sceneId, way, body)))?.label ?? way;
    } catch (error) {
      const stale = error instanceof Refused && error.problem.revision != null;
      if (stale) await queryClient.invalidateQueries({ queryKey: ["scene", sceneId] });
      throw error;
    }
  });
}

/** Brings the scene back to how it was after an edit, as a new edit that can be undone. */
export function restore(sceneId: number, revision: number): Promise<void> {
  return inLine(async () => {
    await send(sceneId, "restore", { revision: useOpenScene.getState().header.revision, to: revision });
  });
}
