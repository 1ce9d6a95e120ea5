import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";

import type { CurveRef } from "../../state/curveSet";
import { drawnOf, useCurveSet } from "../../state/curveSet";
import { keyedCurve, keyedId, useChosenLayer } from "../../state/keying";
import { useOpenScene } from "../../state/openScene";
import type { Block } from "../../state/samples";
import { useSamples, useWants } from "../../state/samples";
import type { KeyPick } from "../../state/selection";
import type { Scales } from "../../shared/scales";
import { isShown, pathOf, rangeOf, scalesOf } from "../../shared/scales";

/** A curve beside the chosen one, as it is drawn. */
export interface Thin {
  curve: CurveRef;
  /** Where its keys are found: the channel, or its curve on the chosen layer. */
  id: string;
  path: string;
  /** How high it is where it leaves the plane, pixels. */
  end: number;
  /** Its keys, on the line, pixels. */
  marks: { frame: number; x: number; y: number }[];
}

interface Plane {
  first: number;
  last: number;
  scales: Scales;
  width: number;
  height: number;
}

/** The curves beside the chosen one that move and are not hidden, each on a scale of its own or all on one. */
export function useThin(curves: CurveRef[], plane: Plane): Thin[] {
  const hidden = useCurveSet((set) => set.hidden);
  const solo = useCurveSet((set) => set.solo);
  const own = useCurveSet((set) => set.scale === "own scales");
  const layer = useChosenLayer();
  const shown = useMemo(() => drawnOf(curves, { hidden, solo }), [curves, hidden, solo]);
  const wants = useMemo(() => shown.map(({ key }) => `${key}/final`), [shown]);
  useWants(wants);
  const blocks = useSamples(useShallow((samples) => wants.map((name) => samples.blocks[name])));
  const channels = useOpenScene(useShallow(({ parts }) => shown.map(({ part, channel }) => parts[part]?.channels.find(({ id }) => id === channel))));
  const { first, last, scales, width, height } = plane;
  return useMemo(
    () => shown.flatMap((curve, n) => {
      const [block, channel] = [blocks[n], channels[n]];
      const range = block && rangeOf(block.data);
      if (!channel || !range || range[1] - range[0] <= 1e-9) return [];
      const room = (range[1] - range[0]) * 0.08;
      const on = own ? { ...scales, y: scalesOf({ x: [0, 1], y: [range[0] - room, range[1] + room] }, width, height).y } : scales;
      const heightAt = (frame: number) => on.y(valueNear(block, frame - first));
      const frames = (keyedCurve(channel, layer)?.keys ?? []).map(({ frame }) => frame).filter((frame) => isShown(frame, scales));
      return [{
        curve,
        id: keyedId(channel, layer),
        path: pathOf(block, first, last, on),
        end: heightAt(scales.x.domain()[1] ?? last),
        marks: frames.map((frame) => ({ frame, x: scales.x(frame), y: heightAt(frame) })),
      }];
    }),
    [shown, blocks, channels, own, layer, first, last, scales, width, height],
  );
}

/** The keys of some curves that stand in a part of the plane. */
export function picksOf(lines: Thin[], inside: (x: number, y: number) => boolean): KeyPick[] {
  return lines.map(({ curve, id, marks }) => ({ part: curve.part, channel: id, frames: marks.filter(({ x, y }) => inside(x, y)).map(({ frame }) => frame) }));
}

/** A block's value on the frame that is nearest. */
function valueNear({ data, frames }: Block, frame: number): number {
  return data[Math.min(Math.max(Math.round(frame), 0), frames - 1)] ?? 0;
}
