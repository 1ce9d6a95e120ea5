import { useCallback, useMemo, useState } from "react";

import type { Curve } from "../../api/client";
import { useShortcuts } from "../../commands/shortcuts";
import { useOpenScene } from "../../state/openScene";
import type { Block } from "../../state/samples";
import { useChosenFrames } from "../../state/selection";
import { showFrames, useTimeWindow } from "../../state/timeWindow";
import type { Window } from "../../shared/scales";
import { aroundKeys, windowOf } from "../../shared/scales";

/** Which frames and values are seen: those that were zoomed to, or all. What is seen stays the same object
 * as long as it is the same, so that nothing is drawn again for it. */
export function useWindow(part: string, id: string, curve: Curve | null, blocks: (Block | undefined)[]) {
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const values = useMemo(() => curve?.keys.map((key) => key.value) ?? [], [curve]);
  const frames = useTimeWindow((window) => window.frames);
  const [fixed, setFixed] = useState<[number, number] | null>(null);
  const auto = windowOf(first, last, blocks, values);
  const [[left, right], [low, high]] = [frames ?? auto.x, fixed ?? auto.y];
  const seen = useMemo((): Window => ({ x: [left, right], y: [low, high] }), [left, right, low, high]);
  const chosen = useChosenFrames(part, id);
  const show = (window: Window) => {
    showFrames(window.x);
    setFixed(window.y);
  };
  const showAll = useCallback(() => {
    showFrames(null);
    setFixed(null);
  }, []);
  useShortcuts({
    frameAll: () => {
      const some = curve?.keys.filter((key) => chosen.includes(key.frame)) ?? [];
      if (some.length < 2 || frames) showAll();
      else show(aroundKeys(some.map((key) => key.frame), some.map((key) => key.value)));
    },
  });
  /** The window stands still under a drag, so that the key stays under the hand. */
  const hold = useCallback(
    (busy: boolean) => { setFixed((now) => (busy ? (now ?? seen.y) : now === seen.y ? null : now)); },
    [seen],
  );
  /** The axis of values stays as it is, or fits what is shown. */
  const fix = useCallback(() => { setFixed((now) => (now ? null : seen.y)); }, [seen]);
  return { seen, isZoomed: frames !== null, isFixed: fixed !== null, show, showAll, hold, fix };
}
