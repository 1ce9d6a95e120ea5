import { Input } from "antd";
import { useRef, useState } from "react";

interface Props {
  label: string;
  value: string;
  width?: number | string;
  mono?: boolean;
  strong?: boolean;
  placeholder?: string;
  /** Resolves to whether it was taken; a refused text stays to be mended. */
  onCommit: (text: string) => Promise<boolean>;
}

/** A text that is sent on Enter or when it is left, and put back on Esc. */
export function TextField({ label, value, width, mono, strong, placeholder, onCommit }: Props) {
  const [draft, show] = useState<string | null>(null);
  // Leaving comes in the same moment as Enter and Esc, before anything is drawn again.
  const now = useRef<string | null>(null);
  const set = (text: string | null) => {
    now.current = text;
    show(text);
  };
  const commit = () => {
    const text = now.current;
    now.current = null;
    if (text === null || text === value) {
      show(null);
      return;
    }
    void onCommit(text).then((stored) => {
      // What was typed meanwhile is another text, and goes its own way.
      if (now.current !== null) return;
      if (stored) show(null);
      else now.current = text;
    });
  };
  return (
    <Input
      size="small"
      data-puts-back={draft !== null}
      aria-label={label}
      title={draft ?? value}
      {...(placeholder === undefined ? {} : { placeholder })}
      {...(mono ? { className: "mono" } : {})}
      style={{ width, minWidth: 0, ...(strong ? { fontWeight: 600 } : {}) }}
      value={draft ?? value}
      onChange={(event) => { set(event.target.value); }}
      onBlur={commit}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Escape") set(null);
        if (event.key === "Enter" || event.key === "Escape") event.currentTarget.blur();
      }}
    />
  );
}
