// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it } from "vitest";

import type { Curve } from "../../api/client";
import { page } from "../../shared/page.testing";
import { scalesOf } from "../../shared/scales";
import { chooseKeys } from "../../state/selection";
import { BaseKeys } from "./BaseKeys";
import { Keys } from "./Keys";

const curve = { keys: [-15, 0, 45, 100.5, 135].map((frame) => ({ frame, value: 0, interpolation: "smooth" })) } as unknown as Curve;
const scales = scalesOf({ x: [-1, 101], y: [0, 1] }, 1160, 300);

let hand: ReturnType<typeof page>;
beforeEach(() => { hand = page(); });
afterEach(() => {
  act(() => { chooseKeys([]); });
  hand.close();
});

it("draws the keys in the part that is shown, chosen or not, and none beside it", () => {
  act(() => { chooseKeys([{ part: "p1", channel: "size", frames: [-15, 45] }]); });
  hand.show(<svg><BaseKeys curve={curve} scales={scales} /><Keys part="p1" channel="size" curve={curve} scales={scales} onDragging={() => undefined} /></svg>);
  for (const mark of ["frame", "base"]) {
    expect([...document.querySelectorAll(`[data-${mark}]`)].map((key) => key.getAttribute(`data-${mark}`))).toEqual(["0", "45", "100.5"]);
  }
});
