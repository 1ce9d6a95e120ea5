import { expect, test } from "vitest";

import { closeness, fits } from "./byName";

test("all words are in the name, a star stands for any letters", () => {
  expect(fits("joint 2.rotation.x", "joint rotation.x")).toBe(true);
  expect(fits("digit 1.rotation.x", "digit*rotation.x")).toBe(true);
  expect(fits("digit 1.rotation.y", "digit*rotation.x")).toBe(false);
  expect(fits("a.b", "a?b")).toBe(false);
  expect(fits("anything", "  ")).toBe(true);
});

test("the very name comes first, then what begins with it, then the shorter", () => {
  const names = ["gangway hook", "hook rail", "hook", "rail hook"];
  expect(names.sort((a, b) => closeness(a, "Hook") - closeness(b, "Hook"))).toEqual(["hook", "hook rail", "rail hook", "gangway hook"]);
});

test("channels of a part keep their order, and a channel that is named comes first", () => {
  const names = ["gangway hook.scale.x", "hook.translation.x", "hook.rotation.x", "hook.visible"];
  const sorted = (search: string) => [...names].sort((a, b) => closeness(a, search) - closeness(b, search));
  expect(sorted("hook")).toEqual(["hook.translation.x", "hook.rotation.x", "hook.visible", "gangway hook.scale.x"]);
  expect(sorted("hook.rot")[0]).toBe("hook.rotation.x");
});
