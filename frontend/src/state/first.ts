import { create } from "zustand";

import { remembered } from "./remembered";

/** Where somebody is on the path of the first five minutes: in which scene, at which step. */
interface First {
  scene: number;
  step: number;
}

const kept = "bindu.first";

function begun(): First | null {
  const found = remembered(sessionStorage, kept) as Partial<First> | null;
  return typeof found?.scene === "number" && typeof found.step === "number" ? { scene: found.scene, step: found.step } : null;
}

export const useFirst = create<{ at: First | null }>(() => ({ at: begun() }));

/** Goes to a step of the path, which is kept in this window; null leaves it. */
export function goFirst(at: First | null) {
  if (at) sessionStorage.setItem(kept, JSON.stringify(at));
  else sessionStorage.removeItem(kept);
  useFirst.setState({ at });
}
