import { Input, Tooltip } from "antd";
import type { ChangeEvent, FocusEvent, KeyboardEvent } from "react";
import { useState } from "react";
import { flushSync } from "react-dom";

import { typed } from "./arithmetic";
import { exact } from "./format";
import { stepSize, useValueDrag } from "./useValueDrag";

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
  const { label, value, text, step, fixed, hint, limited, tried, width = 84, onTry, onCommit } = props;
  const { dragged, handlers } = useValueDrag({ value, step, fixed, onTry, onCommit });
  const { draft, wrong, typing } = useDraft(props, dragged !== null);
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
      {...typing}
      {...handlers}
    />
  );
  const title = wrong ? "Not a number. Type one, or arithmetic such as 2*3 or +=5." : hint;
  return title ? <Tooltip title={title}>{field}</Tooltip> : field;
}

/** What is being typed: Enter keeps it, Esc drops it, arrow keys step it. */
function useDraft({ value, step, fixed, relative, onCommit }: Props, dragging: boolean) {
  const [draft, setDraft] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);

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
      const size = stepSize(step, event);
      const from = typed(draft ?? exact(value), value) ?? value;
      const next = Number((from + (event.key === "ArrowUp" ? size : -size)).toPrecision(12));
      setDraft(exact(next));
      onCommit(next);
    }
  };
  const onFocus = (event: FocusEvent<HTMLInputElement>) => {
    if (fixed) return;
    const input = event.currentTarget;
    // At once, so that what is typed next replaces the number whoever types it.
    flushSync(() => {
      setDraft(exact(value));
    });
    input.select();
  };
  const onBlur = (event: FocusEvent<HTMLInputElement>) => {
    if (draft !== null && !dragging) commit(event.currentTarget.value);
    setDraft(null);
    setWrong(false);
  };
  const onChange = (event: ChangeEvent<HTMLInputElement>) => {
    setDraft(event.target.value);
    setWrong(false);
  };
  return { draft, wrong, typing: { onFocus, onBlur, onChange, onKeyDown } };
}
