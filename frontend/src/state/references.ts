import type { OneEdit, ReferenceView } from "../api/client";
import { useOpenScene } from "./openScene";

/** Where the bytes of a picture or a sound are. */
export function mediumAt(medium: string): string {
  return `/api/scenes/${String(useOpenScene.getState().sceneId)}/media/${medium}`;
}

/** Whether a reference is seen on a frame. */
export function isSeen({ first, last }: ReferenceView, frame: number): boolean {
  return first <= frame && (last === null || frame <= last);
}

/** The edit that changes some of a reference. */
export function changed({ id, name, first, last, opacity, place }: ReferenceView, what: Partial<ReferenceView>): OneEdit {
  return { do: "put reference", name, first, last, opacity, place, id, ...what };
}
