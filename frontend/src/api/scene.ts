import { useQuery } from "@tanstack/react-query";

import { feed } from "../state/samples";
import type { Edits, LedgerView, OneEdit, PartView, SceneHeader, SceneView } from "./client";
import { get, post, Refused } from "./client";
import { queryClient } from "./queryClient";

/** A scene as the browser holds it: parts by id, brought up to date by the answers to edits. */
export interface Scene {
  header: SceneHeader;
  order: string[];
  parts: Record<string, PartView>;
}

const key = (sceneId: number) => ["scene", sceneId];

/** The scene, loaded once and then kept up to date by edits. */
export function useScene(sceneId: number) {
  return useQuery({
    queryKey: key(sceneId),
    queryFn: async () => {
      return merged(undefined, await get<SceneView>(`/api/scenes/${String(sceneId)}`));
    },
    staleTime: Infinity,
  });
}

/** The account of a channel at the present revision; the one before stays until it is there. */
export function useLedger(sceneId: number, revision: number, part: string, channel: string) {
  return useQuery({
    queryKey: ["ledger", sceneId, part, channel, revision],
    queryFn: () => {
      const query = new URLSearchParams({ part, channel });
      return get<LedgerView>(`/api/scenes/${String(sceneId)}/ledger?${query.toString()}`);
    },
    placeholderData: (before) =>
      before?.part === part && before.channel === channel ? before : undefined,
    staleTime: Infinity,
    gcTime: 10_000,
  });
}

function merged(before: Scene | undefined, view: SceneView): Scene {
  const parts: Record<string, PartView> = {};
  if (!view.whole && before) {
    for (const id of view.order) {
      const part = before.parts[id];
      if (part) parts[id] = part;
    }
  }
  for (const part of view.parts) parts[part.id] = part;
  return { header: view.header, order: view.order, parts };
}

function accept(sceneId: number, view: SceneView): Scene {
  const scene = merged(queryClient.getQueryData<Scene>(key(sceneId)), view);
  queryClient.setQueryData(key(sceneId), scene);
  feed.moveTo(view.header.revision);
  return scene;
}

let line: Promise<unknown> = Promise.resolve();

/** Puts work behind the edits that are under way, so that each sees the revision before it. */
function inLine<T>(work: () => Promise<T>): Promise<T> {
  const done = line.then(work, work);
  line = done.catch(() => undefined);
  return done;
}

/** Sends edits; resolves when they are stored. A refusal changes nothing. */
export function sendEdits(sceneId: number, edits: OneEdit[]): Promise<Scene> {
  return inLine(async () => {
    const scene = queryClient.getQueryData<Scene>(key(sceneId));
    const body: Edits = { revision: scene?.header.revision ?? 0, edits };
    try {
      return accept(sceneId, await post<SceneView>(`/api/scenes/${String(sceneId)}/edits`, body));
    } catch (error) {
      if (error instanceof Refused && error.problem.revision) {
        await queryClient.invalidateQueries({ queryKey: key(sceneId) });
        feed.moveTo(error.problem.revision);
      }
      throw error;
    }
  });
}

/** Takes the newest edit back, or does it again. Resolves to what was done. */
export function retrace(sceneId: number, way: "undo" | "redo"): Promise<string> {
  return inLine(async () => {
    const view = await post<SceneView>(`/api/scenes/${String(sceneId)}/${way}`);
    accept(sceneId, view);
    return view.label ?? way;
  });
}
