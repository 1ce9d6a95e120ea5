import { create } from "zustand";

import { get, passes, Refused } from "../api/client";
import { AGAIN } from "../api/queryClient";

/** How many edits are under way, and whether the first of them waits for a server that does not answer. */
export const useWaiting = create<{ edits: number; away: boolean }>(() => ({ edits: 0, away: false }));

/** Does some work that changes the scene; while the server does not answer it waits, and does it
 * again. Whether the first try was stored after all is told by the revision: a scene that has
 * moved on is not changed twice.
 *
 * @param revision what the work is done against
 * @throws Refused when the work is refused, or the scene moved on meanwhile
 */
export async function untilAnswered<T>(sceneId: number, revision: number, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (!passes(error)) throw error;
  }
  useWaiting.setState({ away: true });
  try {
    for (;;) {
      await new Promise((done) => { window.setTimeout(done, AGAIN); });
      try {
        const now = await get<{ revision: number }>(`/api/scenes/${String(sceneId)}/revision`);
        if (now.revision === revision) return await work();
        throw new Refused({ error: "The scene changed while the server was away; look whether your edit is there.", revision: now.revision }, 409);
      } catch (error) {
        if (!passes(error)) throw error;
      }
    }
  } finally {
    useWaiting.setState({ away: false });
  }
}

/** Asks before the page is left while edits wait. */
export function warnOfWaiting(event: BeforeUnloadEvent) {
  if (useWaiting.getState().away) event.preventDefault();
}

/** What is said while edits wait; null where none does. */
export function useWaitingWords(): string | null {
  const { edits, away } = useWaiting();
  if (!away) return null;
  return `Not saved yet: ${edits === 1 ? "an edit waits" : `${String(edits)} edits wait`} for the server and ${edits === 1 ? "goes" : "go"} when it answers`;
}
