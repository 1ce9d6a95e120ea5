import { create } from "zustand";

import { perScene } from "./perScene";
import { useSelection } from "./selection";

interface Looked {
  /** The surface whose account is shown. */
  surface: string | null;
  /** The step of it whose settings are open. */
  step: string | null;
  /** The point that is accounted for. */
  point: number | null;
  /** A second order of its steps that is drawn beside the first one. */
  other: string[] | null;
}

const nothing: Looked = { surface: null, step: null, point: null, other: null };

/** What of a surface is looked at. It belongs to the browser, not to the scene. */
export const useLooked = create<Looked>(() => nothing);

perScene(leaveSurface);

// Whatever else is chosen has its account shown.
useSelection.subscribe((now, before) => {
  if (now.part !== before.part || now.channel !== before.channel) leaveSurface();
});

export function chooseSurface(surface: string, point: number | null = null) {
  const { surface: before, step, other } = useLooked.getState();
  useLooked.setState(before === surface ? { surface, step, point, other } : { ...nothing, surface, point });
}

export function leaveSurface() {
  if (useLooked.getState().surface !== null) useLooked.setState(nothing);
}

/** Draws a second order beside the first one; null: no more. */
export function lookAtOrder(other: string[] | null) {
  useLooked.setState({ other });
}
