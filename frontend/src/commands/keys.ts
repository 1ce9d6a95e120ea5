const names: Record<string, string> = { " ": "Space", ArrowLeft: "←", ArrowRight: "→", ArrowUp: "↑", ArrowDown: "↓", Escape: "Esc", Backspace: "Delete" };
/** With these the page itself is gone through: no command takes them. */
const ofThePage = ["Tab", "Enter"];
const alone = ["Control", "Shift", "Alt", "Meta", "AltGraph", "CapsLock", "Dead", "Unidentified"];

interface Pressed {
  key: string;
  ctrlKey: boolean;
  metaKey: boolean;
  shiftKey: boolean;
  altKey: boolean;
}

/** What was pressed, as people read it: `D`, `Shift + ←`, `Ctrl + Shift + Z`, `?`; null for a key that only
 * changes others, for Tab and Enter, and with Alt, which belongs to panels and to the browser. */
export function keysPressed({ key, ctrlKey, metaKey, shiftKey, altKey }: Pressed): string | null {
  if (altKey || alone.includes(key) || ofThePage.includes(key)) return null;
  const letter = /^\p{L}$/u.test(key);
  const name = names[key] ?? (letter ? key.toUpperCase() : key);
  // A sign tells by itself whether Shift made it.
  const shift = shiftKey && (letter || key.length > 1 || key === " ");
  return [...(ctrlKey || metaKey ? ["Ctrl"] : []), ...(shift ? ["Shift"] : []), name].join(" + ");
}
