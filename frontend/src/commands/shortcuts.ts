import { useEffect } from "react";
import { create } from "zustand";

import { remembered } from "../state/remembered";
import { isEscapeTaken } from "../shared/useEscape";
import { useLatest } from "../shared/useLatest";
import { keysPressed } from "./keys";

/** Every command that has a key of the keyboard. */
export const shortcuts = {
  play: { keys: "Space", text: "play and stop" },
  back: { keys: "←", text: "one frame back" },
  forth: { keys: "→", text: "one frame on" },
  keyBack: { keys: "Shift + ←", text: "to the key before" },
  keyForth: { keys: "Shift + →", text: "to the next key" },
  key: { keys: "D", text: "key the key scope on this frame" },
  remove: { keys: "Delete", text: "delete the chosen keys" },
  none: { keys: "Esc", text: "choose no keys" },
  frameAll: { keys: "F", text: "show the whole curve or the chosen keys, and the chosen parts in the view" },
  mute: { keys: "M", text: "mute or unmute the chosen step" },
  rename: { keys: "F2", text: "rename the chosen part" },
  move: { keys: "1", text: "handles that move" },
  turn: { keys: "2", text: "handles that rotate" },
  scale: { keys: "3", text: "handles that scale" },
  opposite: { keys: "O", text: "select the opposite: left for right" },
  hide: { keys: "H", text: "hide the chosen parts in the view" },
  isolate: { keys: "I", text: "show the chosen parts alone, and all again" },
  chooseKey: { keys: "K", text: "choose the key of the chosen channel on this frame, or the nearest" },
  foldLeft: { keys: "[", text: "fold parts and channels, or bring them back" },
  foldLedger: { keys: "]", text: "fold the ledger, or bring it back" },
  foldTime: { keys: "\\", text: "fold lanes and curves, or bring them back" },
  alone: { keys: "W", text: "give the view the whole window, and come back" },
  landmark: { keys: "F6", text: "to the next panel; with Shift back" },
  landmarkBack: { keys: "Shift + F6", text: "to the panel before" },
  find: { keys: "/", text: "find a part, channel or command" },
  list: { keys: "?", text: "list of all keys" },
  all: { keys: "Ctrl + A", text: "choose all keys that the lanes show" },
  undo: { keys: "Ctrl + Z", text: "undo" },
  redo: { keys: "Ctrl + Shift + Z", text: "redo" },
} as const;

export type ShortcutName = keyof typeof shortcuts;

const kept = "bindu.keys";
const usual = Object.fromEntries(Object.entries(shortcuts).map(([command, { keys }]) => [command, keys])) as Record<ShortcutName, string>;

function own(): Record<ShortcutName, string> {
  const changed = Object.entries(remembered(localStorage, kept) ?? {}).filter(([command, keys]) => command in usual && typeof keys === "string");
  return { ...usual, ...Object.fromEntries(changed) };
}

/** The keys of each command, as they are in this browser. */
export const useKeys = create<Record<ShortcutName, string>>(own);

/** Gives a command other keys, kept in this browser.
 *
 * Returns the command that has them already, in which case nothing is changed. */
export function changeKeys(command: ShortcutName, keys: string): ShortcutName | null {
  const now = useKeys.getState();
  const other = (Object.keys(now) as ShortcutName[]).find((one) => one !== command && now[one] === keys);
  if (other) return other;
  keep({ ...now, [command]: keys });
  return null;
}

/** Gives all commands their usual keys again. */
export function usualKeys() {
  keep(usual);
}

function keep(next: Record<ShortcutName, string>) {
  const own = Object.fromEntries(Object.entries(next).filter(([command, keys]) => usual[command as ShortcutName] !== keys));
  localStorage.setItem(kept, JSON.stringify(own));
  useKeys.setState(next);
}

/** Whether some command has other keys than usual. */
export function isChanged(keys: Record<ShortcutName, string>, command?: ShortcutName): boolean {
  const all = command ? [command] : (Object.keys(keys) as ShortcutName[]);
  return all.some((one) => keys[one] !== usual[one]);
}

function commandOf(event: KeyboardEvent): ShortcutName | undefined {
  const pressed = keysPressed(event);
  const now = useKeys.getState();
  return (Object.keys(now) as ShortcutName[]).find((command) => now[command] === pressed);
}

/** Whether the keyboard belongs to something that takes text or arrow keys of its own. */
function taken(event: KeyboardEvent, command: ShortcutName): boolean {
  if (command === "none" && isEscapeTaken()) return true;
  if (command === "landmark" || command === "landmarkBack") return false;
  const target = event.target as HTMLElement | null;
  if (target?.closest("[data-popup], [aria-expanded=true][role=combobox]")) return true;
  // What does something of its own for a command's keys says so.
  if (target?.closest<HTMLElement>("[data-own]")?.dataset["own"]?.split(" ").includes(command)) return true;
  // What is typed has an undo of its own; a field in which nothing was typed has none.
  if ((command === "undo" || command === "redo") && target?.closest("[data-number][data-touched=false]")) return false;
  // A list or a switch that was chosen from keeps the focus, but takes no text.
  if (target?.closest("input:not([readonly], [type=radio], [type=checkbox]), textarea, [contenteditable]")) return true;
  const isArrow = ["back", "forth", "keyBack", "keyForth"].includes(command);
  if (isArrow && target?.closest("[role=tree], [role=radiogroup], [role=listbox], [role=combobox], [role=slider]")) return true;
  return command === "play" && target?.closest("button, a, input, [role=switch], [role=combobox]") !== null && target !== null;
}

/** Runs these commands on their keys for as long as the component is there. */
export function useShortcuts(run: Partial<Record<ShortcutName, () => void>>) {
  const latest = useLatest(run);
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      const command = commandOf(event);
      if (!command || taken(event, command)) return;
      const work = latest.current[command];
      if (!work) return;
      event.preventDefault();
      event.stopPropagation();
      work();
    };
    // Before any list that still has the focus takes the key to open itself.
    window.addEventListener("keydown", onKeyDown, true);
    return () => {
      window.removeEventListener("keydown", onKeyDown, true);
    };
  }, [latest]);
}
