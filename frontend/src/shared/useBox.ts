import type { RefObject } from "react";
import { useEffect, useState } from "react";

/** Where the control inside an element stands in the window, also while that scrolls or changes its size;
 * null before it is measured. */
export function useBox(around: RefObject<HTMLElement | null>): DOMRect | null {
  const [box, setBox] = useState<DOMRect | null>(null);
  useEffect(() => {
    const measure = () => {
      const next = around.current?.firstElementChild?.getBoundingClientRect();
      if (next) setBox((before) => (before && same(before, next) ? before : next));
    };
    measure();
    window.addEventListener("scroll", measure, true);
    window.addEventListener("resize", measure);
    return () => {
      window.removeEventListener("scroll", measure, true);
      window.removeEventListener("resize", measure);
    };
  }, [around]);
  return box;
}

function same(a: DOMRect, b: DOMRect): boolean {
  return a.left === b.left && a.top === b.top && a.width === b.width && a.height === b.height;
}
