import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";

import { useKeyState } from "../../state/keying";
import { useOpenScene } from "../../state/openScene";
import type { CurveRef } from "../../state/curveSet";
import { curvesBeside, useCurveSet } from "../../state/curveSet";
import type { Block } from "../../state/samples";
import { useSamples, useWants } from "../../state/samples";
import { useSelection } from "../../state/selection";
import { taps } from "../../shared/taps";
import { overlaysOf, useComparison } from "../compare/comparison";
import { useShownTaps } from "./shownTaps";

/** The curves that stand beside the chosen one. */
export function useBeside(): CurveRef[] {
  const beside = useCurveSet((set) => set.beside);
  const pinned = useCurveSet((set) => set.pinned);
  const revision = useOpenScene((scene) => scene.header.revision);
  const chosen = useSelection(({ part, parts, channel }) => `${part ?? ""} ${channel ?? ""} ${parts.join()}`);
  const scope = useKeyState((keying) => keying.scope);
  return useMemo(() => (chosen && scope && revision >= 0 ? curvesBeside(beside, pinned) : []), [beside, pinned, revision, chosen, scope]);
}

/** What is drawn: the taps that are shown, the curve on a layer, and what is compared. */
export function useLines(part: string, channel: string, id: string) {
  const on = useShownTaps((state) => state.on);
  const path = `${part}/${channel}`;
  const names = useMemo(
    () => [...taps.map((tap) => `${path}/${tap}`), `${part}/${id}/own`],
    [path, part, id],
  );
  useWants(names);
  const blocks = useSamples(useShallow((samples) => names.map((name) => samples.blocks[name])));
  const lines = useMemo(
    () => taps.map((tap, n) => [tap, blocks[n]] as const).filter(([tap], n) => on.includes(tap) && !isRepeated(blocks, n)),
    [on, blocks],
  );
  const own = id === channel ? undefined : blocks[taps.length];
  const comparison = useComparison(part, channel);
  const overlays = useMemo(() => overlaysOf(comparison), [comparison]);
  return { blocks, lines, own, comparison, overlays };
}

/** Whether nothing wrote in Bound, Solved or Late, so that the line would lie on the one before. */
function isRepeated(blocks: (Block | undefined)[], n: number): boolean {
  return n >= 2 && n <= 4 && blocks[n]?.key === blocks[n - 1]?.key;
}
