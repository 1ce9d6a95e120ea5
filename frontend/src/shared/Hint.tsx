import { Tooltip } from "antd";
import type { ReactElement, ReactNode, RefObject } from "react";
import { useEffect, useId, useRef, useState } from "react";
import { createPortal } from "react-dom";

import { useBox } from "./useBox";

/** Milliseconds for which the pointer rests before a hint comes up. */
const rest = 100;

interface Props {
  title: ReactNode;
  /** Whether it is up; left out, it is while the pointer rests there. */
  open?: boolean | undefined;
  children: ReactElement;
}

/** A hint beside one control. It is made only when it comes up: a Bench has some fifty, each of which would
 * be computed anew with every frame. */
export function Hint({ title, open, children }: Props) {
  const around = useRef<HTMLSpanElement>(null);
  const timer = useRef(0);
  const [near, setNear] = useState(false);
  const come = () => { timer.current = window.setTimeout(() => { setNear(true); }, rest); };
  const go = () => {
    window.clearTimeout(timer.current);
    setNear(false);
  };
  return (
    <span ref={around} style={{ display: "contents" }} onMouseEnter={come} onMouseLeave={go}>
      {children}
      {title && (open ?? near) && <Shown title={title} around={around} />}
    </span>
  );
}

/** The hint itself, at the place of the control inside ``around``. */
function Shown({ title, around }: { title: ReactNode; around: RefObject<HTMLSpanElement | null> }) {
  const id = useId();
  const box = useBox(around);
  useEffect(() => {
    const control = around.current?.firstElementChild;
    control?.setAttribute("aria-describedby", id);
    return () => { control?.removeAttribute("aria-describedby"); };
  }, [around, id]);
  if (!box) return null;
  const { left, top, width, height } = box;
  return createPortal(
    <Tooltip key={`${String(left)} ${String(top)}`} open id={id} title={title}>
      <span style={{ position: "fixed", left, top, width, height, pointerEvents: "none" }} />
    </Tooltip>,
    document.body,
  );
}
