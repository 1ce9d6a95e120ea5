import { useEffect, useRef } from "react";

/** Every command that has a key of the keyboard. */
export const shortcuts = {
  play: { keys: "Space", text: "play and stop" },
  back: { keys: "←", text: "one frame back" },
  forth: { keys: "→", text: "one frame on" },
  keyBack: { keys: "Shift + ←", text: "to the key before" },
  keyForth: { keys: "Shift + →", text: "to the next key" },
  dot: { keys: "D", text: "put a dot: a key on the chosen channel at this frame" },
  remove: { keys: "Delete", text: "delete the chosen keys" },
  frameAll: { keys: "F", text: "show the whole curve, and the chosen part in the view" },
  mute: { keys: "M", text: "mute or unmute the chosen step" },
  rename: { keys: "F2", text: "rename the chosen part" },
  find: { keys: "/", text: "find a part or channel" },
  list: { keys: "?", text: "list of all keys" },
  undo: { keys: "Ctrl + Z", text: "undo" },
  redo: { keys: "Ctrl + Shift + Z", text: "redo" },
} as const;

export type Command = keyof typeof shortcuts;

function commandOf(event: KeyboardEvent): Command | undefined {
  const { key, shiftKey } = event;
  if (event.ctrlKey || event.metaKey) {
    if (key.toLowerCase() !== "z") return undefined;
    return shiftKey ? "redo" : "undo";
  }
  if (key === "ArrowLeft") return shiftKey ? "keyBack" : "back";
  if (key === "ArrowRight") return shiftKey ? "keyForth" : "forth";
  const plain: Record<string, Command> = {
    " ": "play",
    d: "dot",
    F2: "rename",
    Delete: "remove",
    Backspace: "remove",
    f: "frameAll",
    m: "mute",
    "/": "find",
    "?": "list",
  };
  return plain[key.length === 1 ? key.toLowerCase() : key];
}

/** Whether the keyboard belongs to something that takes text or arrow keys of its own. */
function taken(event: KeyboardEvent, command: Command): boolean {
  const target = event.target as HTMLElement | null;
  if (target?.closest("input, textarea, [contenteditable]")) return true;
  const isArrow = ["back", "forth", "keyBack", "keyForth"].includes(command);
  if (isArrow && target?.closest("[role=tree], [role=radiogroup], [role=listbox]")) return true;
  return command === "play" && target?.closest("button, a, [role=switch]") !== null && target !== null;
}

/** Runs these commands on their keys for as long as the component is there. */
export function useShortcuts(run: Partial<Record<Command, () => void>>) {
  const latest = useRef(run);
  useEffect(() => {
    latest.current = run;
  });
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      const command = commandOf(event);
      if (!command || event.altKey || taken(event, command)) return;
      const work = latest.current[command];
      if (!work) return;
      event.preventDefault();
      work();
    };
    window.addEventListener("keydown", onKeyDown);
    return () => {
      window.removeEventListener("keydown", onKeyDown);
    };
  }, []);
}
