import { useOpenScene } from "./openScene";
import { usePlayer } from "./player";

/** Which revision the scene was at when the playhead came to its frame: what was changed since then was
 * changed while looking at this frame. */
let arrival = { frame: NaN, revision: 0 };

export function cameAt(): number {
  return arrival.revision;
}

/** From now on changes count anew. */
export function comeAgain() {
  arrival = { frame: usePlayer.getState().frame, revision: useOpenScene.getState().header.revision };
}

usePlayer.subscribe(({ frame }) => {
  if (frame !== arrival.frame) comeAgain();
});
useOpenScene.subscribe(({ sceneId }, before) => {
  if (sceneId !== before.sceneId) comeAgain();
});
