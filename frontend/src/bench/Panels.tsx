import { Splitter } from "antd";
import type { KeyboardEvent, ReactNode } from "react";
import { useState } from "react";

import { remembered } from "../state/remembered";

interface Props {
  name: string;
  vertical?: boolean;
  /** The usual sizes in pixels; undefined takes what is left. */
  sizes: (number | undefined)[];
  /** Which of them are folded away. */
  folded?: boolean[];
  children: ReactNode[];
}

const least = { side: 150, middle: 160 };
const step = 24;

/** Panels that resize, and keep their sizes in this browser. A double click on a border brings its
 * usual place back; Alt, Shift and an arrow move the borders of the panel that has the keyboard. */
export function Panels({ name, vertical, sizes, folded = [], children }: Props) {
  // Usual places may change with the window and the scene; one that a hand has chosen stays.
  const [chosen, setChosen] = useState(() => keptSizes(name, sizes));
  const now = chosen ?? sizes;
  const keep = (next: (number | undefined)[]) => {
    setChosen(next);
    localStorage.setItem(`bindu.panels.${name}`, JSON.stringify(next));
  };
  const forget = () => {
    setChosen(null);
    localStorage.removeItem(`bindu.panels.${name}`);
  };
  // The panel without a size of its own keeps taking what is left.
  const own = (next: number[]) => next.map((size, n) => (sizes[n] === undefined || folded[n] ? now[n] : size));
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    if (!event.altKey || !event.shiftKey) return;
    const way = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
    if (way === undefined || /Up|Down/.test(event.key) !== Boolean(vertical)) return;
    const panels = [...event.currentTarget.querySelectorAll(":scope > .ant-splitter > .ant-splitter-panel")];
    const at = panels.findIndex((panel) => panel.contains(event.target as Node));
    const sized = now[at] === undefined ? at + 1 : at;
    const size = now[sized];
    if (size === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const grows = sized < (sizes.findIndex((one) => one === undefined)) ? way : -way;
    keep(now.map((one, n) => (n === sized ? Math.max(size + grows * step, least.side) : one)));
  };
  return (
    <div style={{ height: "100%", flex: 1, minHeight: 0, minWidth: 0, display: "flex" }} onKeyDown={onKeyDown}>
      <Splitter
        orientation={vertical ? "vertical" : "horizontal"}
        style={{ flex: 1, minHeight: 0, minWidth: 0 }}
        onResize={(next) => { setChosen(own(next)); }}
        onResizeEnd={(next) => { keep(own(next)); }}
        onDraggerDoubleClick={forget}
      >
        {children.map((child, n) => (
          <Splitter.Panel
            key={n}
            min={folded[n] ? 0 : sizes[n] === undefined ? least.middle : least.side}
            resizable={!folded[n]}
            {...(folded[n] ? { size: 0 } : now[n] === undefined ? {} : { size: now[n] })}
          >
            {child}
          </Splitter.Panel>
        ))}
      </Splitter>
    </div>
  );
}

function keptSizes(name: string, sizes: (number | undefined)[]): (number | undefined)[] | null {
  const kept = remembered(localStorage, `bindu.panels.${name}`);
  if (!Array.isArray(kept) || kept.length !== sizes.length) return null;
  return sizes.map((size, n) => (size === undefined ? undefined : Math.max(Number(kept[n]) || size, least.side)));
}
