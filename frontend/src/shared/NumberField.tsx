import { Input, Tooltip } from "antd";
import type { KeyboardEvent, MouseEvent, PointerEvent } from "react";
import { useRef, useState } from "react";
import { flushSync } from "react-dom";

import { typed } from "./arithmetic";
import { exact } from "./format";

interface Props {
  label: string;
  /** What the field edits, with all its digits. */
  value: number;
  /** What it shows while nobody edits it. */
  text: string;
  /** What one arrow key, or one pixel of dragging, adds. */
  step: number;
  /** Shown, but not to be changed here. */
  fixed?: boolean;
  hint?: string;
  /** `+5`, `*2` and `/2` change the present value. */
  relative?: boolean;
  /** The value stands at a limit. */
  limited?: boolean;
  /** The value is only tried, not saved. */
  tried?: boolean;
  width?: number | string;
  /** Shows what a value would do while it is dragged. */
  onTry?: (value: number) => void;
  onCommit: (value: number) => void;
}

/** A number that can be typed, dragged, stepped by arrow keys and calculated. */
export function NumberField(props: Props) {
  const { label, value, text, step, fixed, hint, limited, tried, relative, width = 84, onTry, onCommit } = props;
  const [draft, setDraft] = useState<string | null>(null);
  const [dragged, setDragged] = useState<number | null>(null);
  const [wrong, setWrong] = useState(false);
  const drag = useRef<{ x: number; moved: boolean; value: number } | null>(null);

  const commit = (next: string) => {
    const number = typed(next, value, relative);
    setWrong(number === undefined);
    if (number === undefined) return;
    setDraft(null);
    if (number !== value) onCommit(number);
  };

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    event.stopPropagation();
    if (fixed) return;
    if (event.key === "Enter") commit(event.currentTarget.value);
    if (event.key === "Escape") {
      setDraft(null);
      setWrong(false);
      event.currentTarget.blur();
    }
    if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      const size = step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
      const from = typed(draft ?? exact(value), value) ?? value;
      const next = Number((from + (event.key === "ArrowUp" ? size : -size)).toPrecision(12));
      setDraft(exact(next));
      onCommit(next);
    }
  };

  const onPointerDown = (event: PointerEvent<HTMLInputElement>) => {
    if (fixed || document.activeElement === event.currentTarget) return;
    drag.current = { x: event.clientX, moved: false, value };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const onPointerMove = (event: PointerEvent<HTMLInputElement>) => {
    const now = drag.current;
    if (!now) return;
    const way = event.clientX - now.x;
    if (!now.moved && Math.abs(way) < 4) return;
    now.moved = true;
    const size = step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
    now.value = Number((value + way * size).toPrecision(12));
    setDragged(now.value);
    onTry?.(now.value);
  };
  const onPointerUp = (event: PointerEvent<HTMLInputElement>) => {
    const now = drag.current;
    drag.current = null;
    if (!now) return;
    if (!now.moved) {
      event.currentTarget.focus();
      return;
    }
    setDragged(null);
    if (now.value !== value) onCommit(now.value);
  };
  const onPointerCancel = () => {
    if (drag.current?.moved) onTry?.(value);
    drag.current = null;
    setDragged(null);
  };
  // A press must not begin to select or drag text; a click focuses when it is released.
  const onMouseDown = (event: MouseEvent<HTMLInputElement>) => {
    if (!fixed && document.activeElement !== event.currentTarget) event.preventDefault();
  };

  const field = (
    <Input
      className="mono"
      size="small"
      aria-label={label}
      aria-invalid={wrong}
      status={wrong ? "error" : ""}
      readOnly={fixed ?? false}
      style={{ width, flex: "none", paddingInline: 5, background: fixed ? "transparent" : "#fff", cursor: fixed ? "default" : "ew-resize", ...(tried ? { border: "1px dashed #B5321D" } : {}) }}
      prefix={limited ? <span aria-label="at its limit" style={{ color: "#B5321D", fontSize: 11 }}>⊣</span> : <span />}
      styles={{ input: { textAlign: "right" } }}
      value={dragged !== null ? exact(dragged) : (draft ?? text)}
      onFocus={(event) => {
        if (fixed) return;
        const input = event.currentTarget;
        // At once, so that what is typed next replaces the number whoever types it.
        flushSync(() => {
          setDraft(exact(value));
        });
        input.select();
      }}
      onBlur={(event) => {
        if (draft !== null && dragged === null) commit(event.currentTarget.value);
        setDraft(null);
        setWrong(false);
      }}
      onChange={(event) => {
        setDraft(event.target.value);
        setWrong(false);
      }}
      onKeyDown={onKeyDown}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={onPointerCancel}
      onMouseDown={onMouseDown}
    />
  );
  const title = wrong ? "Not a number. Type one, or arithmetic such as 2*3 or +=5." : hint;
  return title ? <Tooltip title={title}>{field}</Tooltip> : field;
}
