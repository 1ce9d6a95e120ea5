import { useSyncExternalStore } from "react";

import { useOpenScene } from "../state/openScene";

/** Pixels: a row of the tree, what stands above the rows, the bar above both panels; what the kit needs, which
 * stands in the same place; and what is left to it in the lowest window. */
const row = 26;
const head = 106;
const bar = 44;
const kit = 340;
const least = 250;
/** Of the height that tree and channels have together: the tree takes no more than this by itself. */
const share = 0.49;

/** How high the tree stands while nobody has moved its border: as its parts need, and no more than about half. It
 * does not depend on what is chosen, so that it does not move under the hand. */
export function treeHeight(parts: number, window: number): number {
  return Math.round(Math.min(Math.max(head + row * parts, kit), Math.max(share * (window - bar), least)));
}

/** See ``treeHeight``. */
export function useTreeHeight(): number {
  const parts = useOpenScene(({ order }) => order.length);
  return treeHeight(parts, useSyncExternalStore(watch, () => window.innerHeight));
}

function watch(changed: () => void) {
  window.addEventListener("resize", changed);
  return () => { window.removeEventListener("resize", changed); };
}
