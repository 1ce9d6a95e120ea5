import { ink } from "./theme";

export type DotState = "key" | "curve" | "none" | "locked";

const words: Record<DotState, string> = {
  key: "key on this frame — click to delete it",
  curve: "keys elsewhere, none on this frame — click to add one",
  none: "no keys — click to add one on this frame",
  locked: "locked against edits by hand",
};

/** How a key is drawn: filled = key on this frame, ring = curve but no key here, faint = none. */
export function Dot({ state, label, onClick }: { state: DotState; label: string; onClick?: () => void }) {
  const mark = (
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden>
      {state === "locked" ? (
        <path d="M4 6.5h6v4.5H4zM5 6.5V4.8a2 2 0 0 1 4 0v1.7" fill="none" stroke={ink.quiet} />
      ) : (
        <circle
          cx="7"
          cy="7"
          r="4"
          fill={state === "key" ? ink.now : "none"}
          stroke={state === "none" ? "#C9C1B1" : ink.now}
          strokeWidth="1.4"
        />
      )}
    </svg>
  );
  if (!onClick) return mark;
  return (
    <button
      type="button"
      title={words[state]}
      aria-label={`${label}: ${words[state]}`}
      disabled={state === "locked"}
      onClick={onClick}
      style={{ all: "unset", cursor: "pointer", display: "inline-flex", padding: 2 }}
    >
      {mark}
    </button>
  );
}
