import { useEffect, useMemo } from "react";

let watching = 0;

/** Whether something that is dragged takes Esc now. */
export function isEscapeTaken(): boolean {
  return watching > 0;
}

/** Lets Esc give up what the pointer drags: `watch` runs `cancel` once when it is pressed, and the key
 * does nothing else; `stop` ends that. */
export function useEscape() {
  const escape = useMemo(() => {
    let end: (() => void) | null = null;
    const stop = () => {
      if (end) watching -= 1;
      end?.();
      end = null;
    };
    const watch = (cancel: () => void) => {
      stop();
      const onKeyDown = (event: KeyboardEvent) => {
        if (event.key !== "Escape") return;
        event.preventDefault();
        event.stopImmediatePropagation();
        stop();
        cancel();
      };
      window.addEventListener("keydown", onKeyDown, true);
      watching += 1;
      end = () => { window.removeEventListener("keydown", onKeyDown, true); };
    };
    return { watch, stop };
  }, []);
  useEffect(() => escape.stop, [escape]);
  return escape;
}
