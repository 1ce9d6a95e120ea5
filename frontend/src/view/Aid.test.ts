import { Group, Scene } from "three";
import { expect, it } from "vitest";

import { withoutAids } from "./Aid";

it("hides what is there to work by, wherever it hangs, and leaves the rest as it was", () => {
  const scene = new Scene();
  const [part, handles, axes, off] = [new Group(), new Group(), new Group(), new Group()];
  for (const one of [handles, axes, off]) one.userData = { aid: true };
  off.visible = false;
  scene.add(part.add(axes), handles, off);
  const seen = () => [part, axes, handles, off].map(({ visible }) => visible);
  expect(withoutAids(scene, seen)).toEqual([true, false, false, false]);
  expect(seen()).toEqual([true, true, true, false]);
});
