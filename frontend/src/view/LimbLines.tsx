import { Line } from "@react-three/drei";
import { Vector3 } from "three";

import type { Limb } from "../api/client";
import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { useBlock, useSamples, valueAt } from "../state/samples";
import { useSelection } from "../state/selection";
import { isNear } from "../shared/limbParts";
import { ink } from "../shared/theme";
import { tapColour } from "../shared/taps";
import { worldAt, worldName } from "./world";

/** In the view: each chosen limb's chain, the way from its middle to its pole, and dashed what is
 * missing to its goal. */
export function LimbLines() {
  const limbs = useOpenScene((scene) => scene.header.limbs);
  const chosen = useSelection((selection) => selection.parts);
  const parts = useOpenScene((scene) => scene.parts);
  return limbs.filter((limb) => isNear(limb, parts, chosen)).map((limb) => <Lines key={limb.id} limb={limb} />);
}

function Lines({ limb }: { limb: Limb }) {
  const frame = usePlayer((player) => player.frame);
  const first = useSamples((samples) => samples.first);
  const blend = valueAt(useBlock(`${limb.part}/${limb.id}.blend/final`), frame, first) ?? 0;
  const blocks = useSamples((samples) => samples.blocks);
  const at = (part: string | null | undefined): Vector3 | null => {
    const m = part ? worldAt(blocks[worldName(part)]) : null;
    return m ? new Vector3(m[3], m[7], m[11]) : null;
  };
  const chain = (limb.chain ?? []).map(at);
  const points = chain.filter((point) => point !== null);
  const [goal, pole] = [at(limb.goal), at(limb.pole)];
  const [end, middle] = [points.at(-1), points[Math.floor(points.length / 2)]];
  if (points.length < 3 || !end || !middle) return null;
  const over = { depthTest: false, transparent: true, renderOrder: 5 };
  return (
    <>
      <Line points={points} color={tapColour.solved} lineWidth={1.5} {...over} />
      {pole && <Line points={[middle, pole]} color={tapColour.solved} lineWidth={1} {...over} />}
      {goal && blend > 0 && end.distanceTo(goal) > 1e-4 && <Line points={[end, goal]} color={ink.trouble} lineWidth={1.5} dashed dashSize={0.04} gapSize={0.03} {...over} />}
    </>
  );
}
