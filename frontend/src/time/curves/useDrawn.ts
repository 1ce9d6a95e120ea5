import { useEffect, useMemo, useState } from "react";

import { useSamples } from "../../state/samples";

/** How long, in milliseconds, a place under the hand waits for the numbers that were asked for it. */
const patience = 50;

/** What is drawn of a drag: `soon` draws it together with the next numbers that come, so that each try is
 * one picture of the browser and not two; by itself where these take long. */
export function useDrawn<T>() {
  const [shown, show] = useState<T | null>(null);
  const drawn = useMemo(() => {
    let waiting: T | null = null;
    let timer = 0;
    const now = (what: T | null) => {
      window.clearTimeout(timer);
      [waiting, timer] = [null, 0];
      show(what);
    };
    const come = () => { if (waiting) now(waiting); };
    const soon = (what: T) => {
      waiting = what;
      timer ||= window.setTimeout(come, patience);
    };
    return { now, soon, come };
  }, []);
  useEffect(() => {
    const end = useSamples.subscribe(drawn.come);
    return () => {
      end();
      drawn.now(null);
    };
  }, [drawn]);
  return [shown, drawn] as const;
}
