import { expect, test } from "vitest";

import { keysPressed } from "./keys";

const plain = { ctrlKey: false, metaKey: false, shiftKey: false, altKey: false };

test.each([
  [{ key: "d" }, "D"],
  [{ key: "D" }, "D"],
  [{ key: "D", shiftKey: true }, "Shift + D"],
  [{ key: "?", shiftKey: true }, "?"],
  [{ key: " " }, "Space"],
  [{ key: "ArrowLeft", shiftKey: true }, "Shift + ←"],
  [{ key: "z", ctrlKey: true }, "Ctrl + Z"],
  [{ key: "Z", metaKey: true, shiftKey: true }, "Ctrl + Shift + Z"],
  [{ key: "F6", shiftKey: true }, "Shift + F6"],
  [{ key: "Backspace" }, "Delete"],
  [{ key: "é" }, "É"],
  [{ key: "Shift", shiftKey: true }, null],
  [{ key: "d", altKey: true }, null],
  [{ key: "Tab" }, null],
  [{ key: "Enter", ctrlKey: true }, null],
])("%o reads %s", (pressed, text) => {
  expect(keysPressed({ ...plain, ...pressed })).toBe(text);
});
