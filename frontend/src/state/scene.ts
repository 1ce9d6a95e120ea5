import { useQuery } from "@tanstack/react-query";

import { takeView, useOpenScene } from "./openScene";
import { rebased } from "./rebase";
import { feed, headerOf, useSamples } from "./samples";
import { untilAnswered, useWaiting } from "./waiting";
import type { LedgerView, OneEdit, SceneView, Shown } from "../api/client";
import { get, postFile, postForBinary, Refused, post } from "../api/client";
import { againWhenFailed, queryClient } from "../api/queryClient";

const path = (sceneId: number) => `/api/scenes/${String(sceneId)}`;

/** Loads a scene and opens it; from then on edits keep it up to date. */
export function useLoadedScene(sceneId: number) {
  return useQuery({
    queryKey: ["scene", sceneId],
    queryFn: async ({ signal }) => {
      const view = await get<SceneView>(path(sceneId));
      // Whoever has left meanwhile does not want it any more.
      if (!signal.aborted) accept(sceneId, view);
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

/** The newest revision of scenes that was heard of: what a change is made against when its scene has been
 * left while it waited. */
const heard = new Map<number, number>();

function isOpen(sceneId: number): boolean {
  return useOpenScene.getState().sceneId === sceneId;
}

const unseen: Shown = { wants: [], have: {} };

/** Sends what changes a scene; the answer brings the change and all shown numbers at once. Where the scene has
 * been left it is stored all the same, and shows nowhere. */
async function send(sceneId: number, way: string, body: object) {
  const { blocks } = useSamples.getState();
  const seen = isOpen(sceneId);
  const buffer = await postForBinary(`${path(sceneId)}/${way}`, { ...body, shown: seen ? feed.shown() : unseen });
  const { view, revision } = headerOf(buffer);
  heard.set(sceneId, revision);
  if (isOpen(sceneId)) {
    if (seen) feed.takeWithEdit(buffer, blocks);
    else feed.moveTo(revision);
    if (view) takeView(sceneId, view);
    void queryClient.invalidateQueries({ queryKey: ["ledger", sceneId] });
  }
  return view;
}

function accept(sceneId: number, view: SceneView) {
  heard.set(sceneId, view.header.revision);
  feed.moveTo(view.header.revision);
  takeView(sceneId, view);
  void queryClient.invalidateQueries({ queryKey: ["ledger", sceneId] });
}

let line: Promise<unknown> = Promise.resolve();

/** Whether an edit of this tab is under way. */
export function isSending(): boolean {
  return useWaiting.getState().edits > 0;
}

function count(by: 1 | -1) {
  useWaiting.setState(({ edits }) => ({ edits: edits + by }));
}

/** Puts work behind the edits that are under way. It is given the revision that the one before left. */
function inLine<T>(sceneId: number, work: (revision: number) => Promise<T>): Promise<T> {
  count(1);
  const { header } = useOpenScene.getState();
  const next = () => work(isOpen(sceneId) ? useOpenScene.getState().header.revision : (heard.get(sceneId) ?? header.revision));
  const done = line.then(next, next);
  line = done.catch(() => undefined).finally(() => { count(-1); });
  return done;
}

/** Changes a scene, in line; `made` says how when its turn has come. */
function change(sceneId: number, way: string, made: () => object): Promise<SceneView | undefined> {
  const { name } = useOpenScene.getState().header;
  return inLine(sceneId, async (revision) => {
    const body = { revision, ...made() };
    try {
      return await untilAnswered(sceneId, revision, () => send(sceneId, way, body));
    } catch (error) {
      // Somebody else was faster: show what they did, and let the person decide.
      const stale = error instanceof Refused && error.problem.revision != null;
      if (stale) await queryClient.invalidateQueries({ queryKey: ["scene", sceneId] });
      if (!(error instanceof Refused) || isOpen(sceneId)) throw error;
      throw new Refused({ ...error.problem, error: `“${name}”, which you left: ${error.problem.error}` }, error.status);
    }
  });
}

/** Sends edits; resolves when they are stored. A refusal changes nothing. */
export async function sendEdits(sceneId: number, edits: OneEdit[]): Promise<void> {
  const seen = useOpenScene.getState();
  await change(sceneId, "edits", () => {
    const now = useOpenScene.getState();
    return { edits: now === seen || now.sceneId !== sceneId ? edits : edits.map((edit) => rebased(edit, seen, now)) };
  });
}

/** Gives parts of the scene the motion of a file's parts of the same names, as one edit. */
export function takeIn(sceneId: number, file: File, wish: Record<string, string>): Promise<void> {
  return inLine(sceneId, async (revision) => {
    const query = new URLSearchParams({ file: file.name, revision: String(revision), ...wish });
    const view = await postFile<SceneView>(`${path(sceneId)}/take-in?${query.toString()}`, file);
    heard.set(sceneId, view.header.revision);
    if (isOpen(sceneId)) accept(sceneId, view);
  });
}

/** Takes the newest edit back, or does it again. Resolves to what was done. */
export async function retrace(sceneId: number, way: "undo" | "redo"): Promise<string> {
  return (await change(sceneId, way, () => ({})))?.label ?? way;
}

/** Brings the scene back to how it was after an edit, as a new edit that can be undone. */
export async function restore(sceneId: number, revision: number): Promise<void> {
  await change(sceneId, "restore", () => ({ to: revision }));
}
