import type { Limb } from "../../api/client";
import { usePlayer } from "../../state/player";
import { useBlock, useSamples } from "../../state/samples";

const branches = ["bent", "soft", "straight: out of reach", "folded: too near", "at its limit"];

/** What a limb's solution says of itself on this frame, metres and degrees. */
export interface LimbState {
  missed: number;
  distance: number;
  reach: number;
  bend: number;
  branch: string;
  factor: number;
}

/** The numbers of a limb that its solution is made with, right from the node that the pose is of. */
export function useLimbState(limb: Limb): LimbState | null {
  const block = useBlock(`${limb.part}/solve/owner ${limb.id}`);
  const first = useSamples((samples) => samples.first);
  const frame = usePlayer((player) => player.frame);
  if (!block) return null;
  const row = block.frames === 1 ? 0 : Math.min(Math.max(frame - first, 0), block.frames - 1);
  const said = block.data.subarray((row + 1) * block.width - 7, (row + 1) * block.width);
  const [missed = 0, distance = 0, reach = 0, bend = 0, branch = 0, factor = 1] = said;
  return { missed, distance, reach, bend, branch: branches[Math.round(branch)] ?? "", factor };
}
