import type { CSSProperties } from "react";
import { useEffect, useRef, useState } from "react";

interface Props {
  label: string;
  value: string;
  style: CSSProperties;
  onCommit: (colour: string) => Promise<boolean>;
}

/** A colour. What a hand passes on its way to the wanted one is only shown here: it is sent once, when
 * the choice is closed. */
export function ColourField({ label, value, style, onCommit }: Props) {
  const [passing, setPassing] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const commit = useRef(onCommit);
  useEffect(() => { commit.current = onCommit; });
  useEffect(() => {
    const input = field.current;
    // React calls every colour on the way a change; the browser's own event is the one at the end.
    const chosen = () => { void commit.current(input?.value ?? "").then(() => { setPassing(null); }); };
    input?.addEventListener("change", chosen);
    return () => { input?.removeEventListener("change", chosen); };
  }, []);
  return <input ref={field} type="color" aria-label={label} title="Its colour" value={passing ?? value} style={{ padding: 0, border: 0, background: "none", ...style }} onInput={(event) => { setPassing(event.currentTarget.value); }} onChange={() => undefined} onBlur={() => { setPassing(null); }} />;
}
