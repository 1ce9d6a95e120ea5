import type { ChangeEvent, FocusEvent, InputEvent, KeyboardEvent } from "react";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";

import { useWaiting } from "../state/waiting";
import { typed } from "./arithmetic";
import { exact } from "./format";
import { nextField } from "./nextField";
import { stepSize } from "./useValueDrag";

interface Options {
  value: number;
  /** Changes when the value is changed by an edit: what it is at other frames is no such change. */
  stamp?: unknown;
  step: number;
  fixed?: boolean | undefined;
  relative?: boolean | undefined;
  /** Shows that the values of several things differ: what is typed is meant even where it equals. */
  meant?: boolean | undefined;
  onCommit: (value: number) => void;
  /** What was typed, its units turned into that of the field. */
  read: (text: string) => string;
  /** Says that what was typed was put back, and why. */
  tell: (words: string) => void;
}

interface Draft {
  text: string;
  touched: boolean;
  /** What the value and its stamp were when the first character was typed. */
  value: number;
  stamp: unknown;
  /** What was last sent from here: that it comes back is no change by others. */
  sent: number | null;
  /** Enter was pressed on a value that was changed elsewhere; the next one writes over it. */
  warned: boolean;
}

/** What is being typed into a field: Enter applies it and gives the keyboard back, Esc puts back what
 * was there, Tab applies it and goes to the next field of the kind, arrow keys step it. */
export function useDraft({ value, stamp = value, step, fixed, relative, meant, onCommit, read, tell }: Options) {
  const [draft, show] = useState<Draft | null>(null);
  const [wrong, setWrong] = useState(false);
  // Leaving the field comes in the same moment as Enter and Esc, before anything is drawn again.
  const now = useRef<Draft | null>(null);
  // What was applied is shown until it is stored, which can take long while the server is away.
  const [applied, setApplied] = useState<number | null>(null);
  const waits = useWaiting(({ edits }) => applied !== null && edits > 0);
  useEffect(() => { if (!waits) setApplied(null); }, [applied, waits]);
  const field = useRef<HTMLInputElement | null>(null);
  const set = (next: Draft | null) => {
    now.current = next;
    show(next);
    setWrong(false);
  };
  const changedElsewhere = (held: Draft) =>
    held.touched && stamp !== held.stamp && value !== held.value && value !== held.sent;

  const apply = (number: number) => {
    setApplied(number);
    onCommit(number);
  };
  const onEnter = (input: HTMLInputElement) => {
    const held = now.current ?? begun();
    const number = typed(read(held.text), value, relative);
    if (number === undefined) {
      setWrong(true);
      return;
    }
    if (changedElsewhere(held) && !held.warned) {
      set({ ...held, warned: true });
      return;
    }
    set(null);
    if (meant || held.touched || number !== value) apply(number);
    input.blur();
  };
  const onLeave = () => {
    const held = now.current;
    if (!held) return;
    set(null);
    if (!held.touched) return;
    const number = typed(read(held.text), value, relative);
    if (number === undefined) tell(`“${held.text}” is no number; ${exact(value)} was put back.`);
    else if (changedElsewhere(held)) tell(`It was changed elsewhere to ${exact(value)} meanwhile; your ${held.text} was not written.`);
    else if (meant || number !== value) apply(number);
  };
  const begun = (): Draft => ({ text: exact(value), touched: false, value, stamp, sent: null, warned: false });
  const onStep = (event: KeyboardEvent<HTMLInputElement>) => {
    const held = now.current ?? begun();
    const size = stepSize(step, event);
    const from = typed(read(held.text), value, relative) ?? value;
    const next = Number((from + (event.key === "ArrowUp" ? size : -size)).toPrecision(12));
    set({ ...held, text: exact(next), touched: false, sent: next });
    onCommit(next);
  };

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.ctrlKey || event.metaKey) return;
    event.stopPropagation();
    if (event.key === "Escape") set(null);
    if (event.key === "Escape" || (fixed && event.key === "Enter")) event.currentTarget.blur();
    else if (fixed) return;
    else if (event.key === "Enter") onEnter(event.currentTarget);
    else if (event.key === "Tab") {
      const next = nextField(event.currentTarget, event.shiftKey ? -1 : 1);
      if (!next) return;
      event.preventDefault();
      next.focus();
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      onStep(event);
    }
  };
  const onFocus = (event: FocusEvent<HTMLInputElement>) => {
    if (fixed) return;
    const input = event.currentTarget;
    field.current = input;
    // At once, so that what is typed next replaces the number whoever types it.
    flushSync(() => { set(begun()); });
    input.select();
  };
  // React tells of no change where the same is typed over what is marked, though it was typed: so it is
  // taken from the input itself too.
  const onChange = (event: ChangeEvent<HTMLInputElement> | InputEvent<HTMLInputElement>) => {
    // What changed before anything was typed has been seen: only later changes are asked about.
    const held = now.current?.touched ? now.current : begun();
    set({ ...held, text: event.currentTarget.value, touched: true, warned: false });
  };
  const elsewhere = draft !== null && changedElsewhere(draft);
  // Until something is typed the field follows the value, so that undo shows in it too.
  const typedOrValue = draft && (draft.touched || draft.sent !== null ? draft.text : exact(value));
  const text = typedOrValue ?? (waits && applied !== null ? exact(applied) : null);
  // A number that changes under the keyboard stays marked, so that what is typed next replaces it.
  useLayoutEffect(() => {
    if (now.current && !now.current.touched) field.current?.select();
  }, [text]);
  return { text, touched: draft?.touched ?? false, wrong, elsewhere, typing: { onFocus, onBlur: onLeave, onChange, onInput: onChange, onKeyDown } };
}
