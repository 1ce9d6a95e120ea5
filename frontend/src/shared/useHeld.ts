import type { RefObject } from "react";
import { useCallback, useRef, useState } from "react";

/** What a hand has taken up, or is typing: `held` is known at once, since it may go on and let go before
 * anything is drawn again; `drawn` is the same for the next picture. */
export function useHeld<T>(): { held: RefObject<T | null>; drawn: T | null; hold: (what: T | null) => void } {
  const held = useRef<T | null>(null);
  const [drawn, draw] = useState<T | null>(null);
  const hold = useCallback((what: T | null) => {
    held.current = what;
    draw(what);
  }, []);
  return { held, drawn, hold };
}
