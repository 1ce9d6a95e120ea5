import type { ChangeEvent, FocusEvent, InputEvent, KeyboardEvent } from "react";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";

import { useWaiting } from "../state/waiting";
import { notRead, typed } from "./arithmetic";
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

/** What is being typed, known at once: leaving the field comes in the same moment as Enter and Esc,
 * before anything is drawn again. */
function useTyped() {
  const [draft, show] = useState<Draft | null>(null);
  const [wrong, setWrong] = useState(false);
  const now = useRef<Draft | null>(null);
  const set = (next: Draft | null) => {
    now.current = next;
    show(next);
    setWrong(false);
  };
  return { draft, now, set, wrong, setWrong };
}

/** What was applied is shown until it is stored, which can take long while the server is away. */
function useApplied(onCommit: (value: number) => void) {
  const [applied, setApplied] = useState<number | null>(null);
  const waits = useWaiting(({ edits }) => applied !== null && edits > 0);
  useEffect(() => { if (!waits) setApplied(null); }, [applied, waits]);
  const apply = (number: number) => {
    setApplied(number);
    onCommit(number);
  };
  return { applied: waits ? applied : null, apply };
}

/** What marks the number in a field: when the keyboard comes to it, and when the number changes under
 * the keyboard before anything is typed, so that what is typed next replaces it. */
function useMarked(text: string | null, held: { current: Draft | null }) {
  const field = useRef<HTMLInputElement | null>(null);
  useLayoutEffect(() => {
    if (held.current && !held.current.touched) field.current?.select();
  }, [held, text]);
  return (input: HTMLInputElement) => {
    field.current = input;
    input.select();
  };
}

interface Keys {
  fixed: boolean | undefined;
  onEnter: (input: HTMLInputElement) => void;
  onEscape: () => void;
  onStep: (event: KeyboardEvent<HTMLInputElement>) => void;
}

/** The keys of a field; a fixed one knows only those that leave it. */
function pressed(event: KeyboardEvent<HTMLInputElement>, { fixed, onEnter, onEscape, onStep }: Keys) {
  if (event.ctrlKey || event.metaKey) return;
  event.stopPropagation();
  if (event.key === "Escape") onEscape();
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
}

/** What is being typed into a field: Enter applies it and gives the keyboard back, Esc puts back what
 * was there, Tab applies it and goes to the next field of the kind, arrow keys step it. */
export function useDraft({ value, stamp = value, step, fixed, relative, meant, onCommit, read, tell }: Options) {
  const { draft, now, set, wrong, setWrong } = useTyped();
  const { applied, apply } = useApplied(onCommit);
  const begun = (): Draft => ({ text: exact(value), touched: false, value, stamp, sent: null, warned: false });
  const numberIn = (held: Draft) => typed(read(held.text), value, relative);
  const changedElsewhere = (held: Draft) =>
    held.touched && stamp !== held.stamp && value !== held.value && value !== held.sent;

  const onEnter = (input: HTMLInputElement) => {
    const held = now.current ?? begun();
    const number = numberIn(held);
    if (number === undefined) setWrong(true);
    else if (changedElsewhere(held) && !held.warned) set({ ...held, warned: true });
    else {
      set(null);
      if (meant || held.touched || number !== value) apply(number);
      input.blur();
    }
  };
  const onLeave = () => {
    const held = now.current;
    if (!held) return;
    set(null);
    if (!held.touched) return;
    const number = numberIn(held);
    if (number === undefined) tell(`${notRead(held.text)}; ${exact(value)} was put back.`);
    else if (changedElsewhere(held)) tell(`It was changed elsewhere to ${exact(value)} meanwhile; your ${held.text} was not written.`);
    else if (meant || number !== value) apply(number);
  };
  const onStep = (event: KeyboardEvent<HTMLInputElement>) => {
    const held = now.current ?? begun();
    const size = stepSize(step, event);
    const next = Number(((numberIn(held) ?? value) + (event.key === "ArrowUp" ? size : -size)).toPrecision(12));
    set({ ...held, text: exact(next), touched: false, sent: next });
    onCommit(next);
  };
  // React tells of no change where the same is typed over what is marked, though it was typed: so it is
  // taken from the input itself too.
  const onChange = (event: ChangeEvent<HTMLInputElement> | InputEvent<HTMLInputElement>) => {
    // What changed before anything was typed has been seen: only later changes are asked about.
    const held = now.current?.touched ? now.current : begun();
    set({ ...held, text: event.currentTarget.value, touched: true, warned: false });
  };

  // Until something is typed the field follows the value, so that undo shows in it too.
  const typedOrValue = draft && (draft.touched || draft.sent !== null ? draft.text : exact(value));
  const text = typedOrValue ?? (applied === null ? null : exact(applied));
  const mark = useMarked(text, now);
  const onFocus = (event: FocusEvent<HTMLInputElement>) => {
    if (fixed) return;
    // At once, so that what is typed next replaces the number whoever types it.
    flushSync(() => { set(begun()); });
    mark(event.currentTarget);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => { pressed(event, { fixed, onEnter, onStep, onEscape: () => { set(null); } }); };
  return {
    text, touched: draft?.touched ?? false, wrong, elsewhere: draft !== null && changedElsewhere(draft),
    typing: { onFocus, onBlur: onLeave, onChange, onInput: onChange, onKeyDown },
  };
}
