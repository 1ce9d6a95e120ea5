import { Popover } from "antd";
import type { TooltipPlacement, TooltipRef } from "antd/es/tooltip";
import type { KeyboardEvent, ReactElement, ReactNode, RefObject } from "react";
import { useEffect, useId, useRef, useState } from "react";
import { createPortal } from "react-dom";

import { closePopup, openPopup, usePopup } from "../state/popup";
import { useBox } from "./useBox";

/** The popups that are there, open or not. */
const standing = new Set<string>();

interface Props {
  title?: ReactNode;
  /** Its name, where it shows no title. */
  label?: string;
  placement?: TooltipPlacement;
  /** What it shows; `close` is for when its work is done. */
  content: (close: () => void) => ReactNode;
  /** What it hangs from; a click on it opens it. */
  children: ReactElement;
  /** Its identity, where something else opens it too, or where it outlives its being drawn anew. */
  id?: string;
  /** It opens by ``openPopup`` alone. */
  byHand?: boolean;
}

/** A small panel that hangs from what opened it. One is open at a time; the keyboard is inside while it
 * is, and goes back where it was; Esc and a click outside close it. It is made when it opens: the steps of
 * a gait have one each. */
export function Popup({ title, label, placement = "bottom", content, children, id: given, byHand }: Props) {
  const made = useId();
  const id = given ?? made;
  const around = useRef<HTMLSpanElement>(null);
  const open = usePopup((state) => state.open === id);
  // It goes one drawing later than it closes: a field inside has then sent what was typed into it.
  const [shown, setShown] = useState(open);
  useEffect(() => { setShown(open); }, [open]);
  const close = () => { closePopup(id); };
  useEffect(() => {
    standing.add(id);
    return () => {
      standing.delete(id);
      // It stays open where all around it is only drawn anew, as with other units.
      queueMicrotask(() => { if (!standing.has(id)) closePopup(id); });
    };
  }, [id]);
  const onClick = () => {
    if (around.current?.firstElementChild?.matches(":disabled")) return;
    if (open) close();
    else openPopup(id);
  };
  return (
    <>
      <span ref={around} style={{ display: "contents" }} {...(byHand ? {} : { onClick })}>{children}</span>
      {(open || shown) && (
        <Shown around={around} placement={placement} onClose={close}>
          <Inside open={open} title={title} label={label} onClose={close}>{content(close)}</Inside>
        </Shown>
      )}
    </>
  );
}

interface ShownProps {
  /** Holds what it hangs from. */
  around: RefObject<HTMLElement | null>;
  placement: TooltipPlacement;
  onClose: () => void;
  children: ReactNode;
}

/** The open panel, at the place of what it hangs from. */
function Shown({ around, placement, onClose, children }: ShownProps) {
  const box = useBox(around);
  const panel = useRef<TooltipRef>(null);
  const pressed = useRef<EventTarget | null>(null);
  useEffect(() => { panel.current?.forceAlign(); }, [box]);
  useEffect(() => {
    const note = (event: PointerEvent) => { pressed.current = event.target; };
    window.addEventListener("pointerdown", note, true);
    return () => { window.removeEventListener("pointerdown", note, true); };
  }, []);
  // What it hangs from says by itself what a click there does.
  const leave = (stays: boolean) => { if (!stays && !around.current?.contains(pressed.current as Node | null)) onClose(); };
  if (!box) return null;
  const { left, top, width, height } = box;
  return createPortal(
    <Popover ref={panel} open onOpenChange={leave} trigger="click" placement={placement} content={children}>
      <span style={{ position: "fixed", left, top, width, height, pointerEvents: "none" }} />
    </Popover>,
    document.body,
  );
}

const able = "input:not([disabled]), button:not([disabled]), textarea, [tabindex='0']";

interface InsideProps {
  open: boolean;
  title: ReactNode;
  label: string | undefined;
  onClose: () => void;
  children: ReactNode;
}

/** What is inside an open popup: the keyboard comes here, stays here, and goes back as soon as it
 * closes, while it is still there. */
function Inside({ open, title, label, onClose, children }: InsideProps) {
  const heading = useId();
  const box = useRef<HTMLDivElement>(null);
  const close = useRef(onClose);
  const isOpen = useRef(open);
  useEffect(() => {
    close.current = onClose;
    isOpen.current = open;
  });
  useEffect(() => {
    if (!open) return undefined;
    const before = document.activeElement;
    const inside = box.current;
    // Once it stands where it belongs, so that nothing scrolls.
    const frame = requestAnimationFrame(() => {
      if (!inside?.contains(document.activeElement)) (inside?.querySelector<HTMLElement>(able) ?? inside)?.focus({ preventScroll: true });
    });
    const onKeyDown = (event: globalThis.KeyboardEvent) => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      // A list that hangs open from a field inside takes Esc first, and so does what is being typed.
      const busy = target?.closest("[aria-expanded=true], [data-takes-keys]") ?? (inside?.contains(target) ? target?.closest("[data-puts-back=true]") : null);
      if (event.key !== "Escape" || busy) return;
      event.preventDefault();
      event.stopPropagation();
      close.current();
    };
    window.addEventListener("keydown", onKeyDown, true);
    return () => {
      cancelAnimationFrame(frame);
      window.removeEventListener("keydown", onKeyDown, true);
      const now = document.activeElement;
      if (now !== document.body && !inside?.contains(now)) return;
      if (before instanceof HTMLElement && before !== document.body && before.isConnected) before.focus({ preventScroll: true });
      else if (now instanceof HTMLElement) now.blur();
    };
  }, [open]);
  const onKeyDown = (event: KeyboardEvent) => {
    event.stopPropagation();
    // Where Enter in a field closes this, what has the keyboard next does not get it.
    if (event.key === "Enter" && event.target instanceof HTMLInputElement) event.preventDefault();
    if (event.key !== "Tab") return;
    const all = [...(box.current?.querySelectorAll<HTMLElement>(able) ?? [])].filter((one) => one.tabIndex >= 0);
    const at = all.indexOf(document.activeElement as HTMLElement);
    const leaving = event.shiftKey ? at <= 0 : at === all.length - 1;
    if (!leaving) return;
    event.preventDefault();
    all.at(event.shiftKey ? -1 : 0)?.focus();
  };
  // A field that gives the keyboard back gives it to the popup that it is in.
  const stay = () => {
    requestAnimationFrame(() => { if (isOpen.current && document.activeElement === document.body) box.current?.focus({ preventScroll: true }); });
  };
  return (
    <div ref={box} data-popup role="dialog" {...(title ? { "aria-labelledby": heading } : { "aria-label": label })} tabIndex={-1} onKeyDown={onKeyDown} onBlur={stay} style={{ outline: "none" }}>
      {title && <div id={heading} className="popup-title">{title}</div>}
      {children}
    </div>
  );
}
