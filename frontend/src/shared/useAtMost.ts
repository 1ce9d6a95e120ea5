import { useEffect, useRef, useState } from "react";

/** A value that changes at most so often, milliseconds: for what costs the server work beside what is under the
 * hand. Its last change always comes. */
export function useAtMost<T>(value: T, every: number): T {
  const [shown, show] = useState(value);
  const last = useRef(0);
  useEffect(() => {
    const wait = Math.max(0, last.current + every - performance.now());
    const timer = setTimeout(() => {
      last.current = performance.now();
      show(value);
    }, wait);
    return () => { clearTimeout(timer); };
  }, [value, every]);
  return shown;
}
