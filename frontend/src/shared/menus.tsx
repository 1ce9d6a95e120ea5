import type { ReactNode, Ref } from "react";
import { useImperativeHandle, useRef } from "react";

/** What a list that drops down needs beside its entries: the keyboard goes into it, and it is a landmark of
 * its own, since it opens at the end of the page. */
export function asMenu(name: string) {
  return { autoFocus: true, popupRender: (list: ReactNode) => <Landmark name={name}>{list}</Landmark> };
}

interface Props {
  name: string;
  children: ReactNode;
  ref?: Ref<{ focus: () => void }>;
}

/** The keyboard that is given to it goes on to the list; keys that are pressed in it are its own. */
function Landmark({ name, children, ref }: Props) {
  const box = useRef<HTMLElement>(null);
  useImperativeHandle(ref, () => ({ focus: () => { box.current?.querySelector<HTMLElement>("[role=menu]")?.focus(); } }), []);
  return <section ref={box} aria-label={name} data-popup>{children}</section>;
}
