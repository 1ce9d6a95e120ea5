import { Line } from "@react-three/drei";
import { Vector3 } from "three";

import type { Limb } from "../api/client";
import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import type { Block } from "../state/samples";
import { useBlock, useSamples, valueAt } from "../state/samples";
import { useSelection } from "../state/selection";
import { useShowing } from "../state/showing";
import { isNear } from "../shared/limbParts";
import { ink } from "../shared/theme";
import { tapColour } from "../shared/tapColours";
import { reachArc } from "./reachArc";
import { worldAt, worldName } from "./world";

const over = { depthTest: false, transparent: true, renderOrder: 5 };

/** In the view: each chosen limb's chain, the way from its middle to its pole, and dashed what is
 * missing to its goal; while its goal is dragged, how far it reaches. */
export function LimbLines() {
  const limbs = useOpenScene((scene) => scene.header.limbs);
  const chosen = useSelection((selection) => selection.parts);
  const parts = useOpenScene((scene) => scene.parts);
  const dragged = useSamples((samples) => samples.trying);
  const bothWays = useShowing((showing) => showing.bothWays);
  return limbs
    .filter((limb) => isNear(limb, parts, chosen))
    .map((limb) => (
      <group key={limb.id}>
        <Lines limb={limb} dragged={dragged && chosen.includes(limb.goal ?? "")} />
        {bothWays && <BothWays limb={limb} />}
      </group>
    ));
}

function Lines({ limb, dragged }: { limb: Limb; dragged: boolean }) {
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
  const [base, end, middle] = [points[0], points.at(-1), points[Math.floor(points.length / 2)]];
  if (points.length < 3 || !base || !end || !middle) return null;
  return (
    <>
      <Line points={points} color={tapColour.solved} lineWidth={1.5} {...over} />
      {pole && <Line points={[middle, pole]} color={tapColour.solved} lineWidth={1} {...over} />}
      {goal && blend > 0 && end.distanceTo(goal) > 1e-4 && <Line points={[end, goal]} color={ink.trouble} lineWidth={1.5} dashed dashSize={0.04} gapSize={0.03} {...over} />}
      {goal && dragged && <Reach limb={limb} base={base} goal={goal} middle={middle} />}
    </>
  );
}

/** How far a limb reaches, as a faint arc on the side where its goal is. */
function Reach({ limb, base, goal, middle }: { limb: Limb; base: Vector3; goal: Vector3; middle: Vector3 }) {
  const reach = useRow(useBlock(`${limb.part}/solve/owner ${limb.id}`))?.at(-5) ?? 0;
  const arc = reachArc(base, goal, middle, reach);
  return arc.length > 0 && <Line points={arc} color={tapColour.solved} lineWidth={1} opacity={0.45} {...over} />;
}

/** The chain by FK alone, dotted, and by IK alone, dashed. */
function BothWays({ limb }: { limb: Limb }) {
  const row = useRow(useBlock(`${limb.part}/both ways/owner ${limb.id}`));
  if (!row) return null;
  const points = Array.from({ length: row.length / 3 }, (_, n) => new Vector3(row[3 * n], row[3 * n + 1], row[3 * n + 2]));
  const half = points.length / 2;
  return (
    <>
      <Line points={points.slice(0, half)} color={tapColour.bound} lineWidth={2} dashed dashSize={0.015} gapSize={0.025} {...over} />
      <Line points={points.slice(half)} color={tapColour.solved} lineWidth={2} dashed dashSize={0.06} gapSize={0.03} {...over} />
    </>
  );
}

/** A block's numbers on the playhead's frame. */
function useRow(block: Block | undefined): Float32Array | null {
  const frame = usePlayer((player) => player.frame);
  const first = useSamples((samples) => samples.first);
  if (!block) return null;
  const row = block.frames === 1 ? 0 : Math.min(Math.max(frame - first, 0), block.frames - 1);
  return block.data.subarray(row * block.width, (row + 1) * block.width);
}
