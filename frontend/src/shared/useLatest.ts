import type { RefObject } from "react";
import { useLayoutEffect, useRef } from "react";

/** What was rendered last, for handlers that read it when they run and so need not be made anew. */
export function useLatest<T>(value: T): RefObject<T> {
  const latest = useRef(value);
  useLayoutEffect(() => {
    latest.current = value;
  });
  return latest;
}
