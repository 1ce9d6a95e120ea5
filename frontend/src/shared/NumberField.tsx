import { App, Input } from "antd";

import { feed } from "../state/samples";
import { notRead } from "./arithmetic";
import { exact } from "./format";
import { Hint } from "./Hint";
import { ink } from "./theme";
import { inUnits, looked, lookOf, meant } from "./units";
import { useDraft } from "./useDraft";
import { useValueDrag } from "./useValueDrag";

interface Props {
  label: string;
  /** What the field edits, with all its digits. */
  value: number;
  /** What it shows while nobody edits it. */
  text: string;
  /** What one arrow key, or one pixel of dragging, adds; of metres and degrees what suits them. */
  step?: number;
  /** The unit of the value: metres and degrees are edited as the scene is looked at. */
  unit?: string;
  /** Shown, but not to be changed here. */
  fixed?: boolean;
  hint?: string;
  /** `+5`, `*2` and `/2` change the present value. */
  relative?: boolean;
  /** What is applied is meant even where it equals the present value. */
  meant?: boolean;
  /** See ``useDraft``. */
  stamp?: unknown;
  /** The value stands at a limit. */
  limited?: boolean;
  /** The value is only tried, not saved. */
  tried?: boolean;
  /** A change is always keyed: said by a bar under the field. */
  keyed?: boolean;
  width?: number | string;
  /** Shows what a value would do while it is dragged. */
  onTry?: (value: number) => void;
  /** What was tried is given up; what was saved is shown again. */
  onCancel?: () => void;
  onCommit: (value: number) => void;
}

const showSaved = () => { feed.tryOut([]); };

/** A number that can be typed, dragged, stepped by arrow keys and calculated. */
export function NumberField(props: Props) {
  const { label, text, fixed, hint, limited, tried, keyed, width = 84, onCancel = showSaved } = props;
  const { message } = App.useApp();
  const look = lookOf(props.unit ?? "");
  const value = looked(props.value, look);
  const step = props.step ?? look.step;
  const onTry = props.onTry && ((now: number) => { props.onTry?.(meant(now, look)); });
  const onCommit = (now: number) => { props.onCommit(now === value ? props.value : meant(now, look)); };
  const { dragged, handlers } = useValueDrag({ value, step, fixed, onTry, onCancel, onCommit });
  const tell = (words: string) => void message.warning(`${label}: ${words}`, 6);
  const read = (typed: string) => inUnits(typed, look);
  const { text: draft, touched, wrong, elsewhere, typing } = useDraft({ ...props, value, step, onCommit, read, tell });
  const title = wrong
    ? `${notRead(draft ?? "")}. Numbers and arithmetic such as 2*3 or +=5 are read.`
    : elsewhere
      ? `Changed elsewhere to ${exact(value)}. Enter twice writes over that; Esc takes it.`
      : hint;
  // A hint would lie over what one looks at while the hand moves.
  const open = wrong || elsewhere ? true : dragged !== null ? false : undefined;
  return (
    <Hint title={title} open={open}>
      <Input
        className="mono"
        size="small"
        data-number
        data-puts-back={touched || dragged !== null}
        data-touched={touched}
        aria-label={label}
        aria-invalid={wrong}
        status={wrong ? "error" : elsewhere ? "warning" : ""}
        readOnly={fixed ?? false}
        style={{
          width,
          flex: "none",
          paddingInline: 5,
          textAlign: "right",
          background: fixed ? "transparent" : ink.field,
          cursor: fixed ? "default" : "ew-resize",
          // A finger drags it sideways, and scrolls the panel up and down.
          touchAction: "pan-y",
          ...(tried ? { border: `1px dashed ${ink.trouble}` } : {}),
          ...(keyed ? { borderBottom: `2px solid ${ink.key}` } : {}),
          ...(limited ? { backgroundImage: `linear-gradient(${ink.trouble}, ${ink.trouble})`, backgroundSize: "2px 60%", backgroundPosition: "3px center", backgroundRepeat: "no-repeat" } : {}),
        }}
        {...(limited ? { title: "at its limit", "aria-description": "at its limit" } : {})}
        value={dragged !== null ? exact(dragged) : (draft ?? text)}
        {...typing}
        {...handlers}
      />
    </Hint>
  );
}
