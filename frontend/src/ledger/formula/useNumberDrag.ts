import type { PointerEvent } from "react";
import { useRef, useState } from "react";

import type { OneEdit, StepView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { feed } from "../../state/samples";
import { useEscape } from "../../shared/useEscape";
import { stepSize } from "../../shared/useValueDrag";
import { dragStep } from "./tokens";

/** Writes a number of a formula, there or in all that are alike. */
export function changeNumber(step: StepView, place: number, value: number, alike: boolean): OneEdit {
  return { do: "change number", step: step.id, place, value, alike };
}

/** A number of a formula that is dragged, or goes by steps of the keyboard: what it is now, until that
 * is stored. A press without a move is a click. */
export function useNumberDrag({ step, place, value }: { step: StepView; place: number; value: number }, onPress: () => void) {
  const edit = useEdit();
  const [now, setNow] = useState<number | null>(null);
  const drag = useRef<{ x: number; value: number; moved: boolean } | null>(null);
  const pressed = useRef<number | null>(null);
  const escape = useEscape();
  const giveUp = () => {
    escape.stop();
    drag.current = null;
    setNow(null);
    feed.tryOut([]);
  };
  const onPointerDown = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { x: event.clientX, value, moved: false };
    escape.watch(giveUp);
  };
  const onPointerMove = (event: PointerEvent) => {
    const held = drag.current;
    if (!held || (!held.moved && Math.abs(event.clientX - held.x) < 3)) return;
    held.moved = true;
    held.value = Number((value + (event.clientX - held.x) * stepSize(dragStep(value), event)).toPrecision(8));
    setNow(held.value);
    feed.tryOut([changeNumber(step, place, held.value, event.ctrlKey)]);
  };
  const onPointerUp = (event: PointerEvent) => {
    const held = drag.current;
    if (!held) return;
    escape.stop();
    drag.current = null;
    if (!held.moved) onPress();
    else if (held.value === value) giveUp();
    else void edit(changeNumber(step, place, held.value, event.ctrlKey)).then(() => { if (!drag.current) setNow(null); });
  };
  /** The keyboard goes on from where it is, though what it did before is still under way. */
  const goBy = (far: number) => {
    const next = Number(((pressed.current ?? value) + far).toPrecision(8));
    pressed.current = next;
    setNow(next);
    void edit(changeNumber(step, place, next, false)).then(() => {
      if (pressed.current !== next) return;
      pressed.current = null;
      setNow(null);
    });
  };
  return { now, goBy, drag: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel: giveUp } };
}
