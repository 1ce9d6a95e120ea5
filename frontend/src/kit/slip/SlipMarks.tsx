import { Line } from "@react-three/drei";

import type { Probe } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { ink } from "../../shared/theme";
import { useSlip } from "./SlipProbes";

const stretch = 10;

/** In the view: each probe's point, and its slip on this frame, ten times as long. */
export function SlipMarks() {
  const probes = useOpenScene((scene) => scene.header.probes);
  return probes.map((probe) => <Mark key={probe.id} probe={probe} />);
}

function Mark({ probe }: { probe: Probe }) {
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const slip = useSlip(probe.id, first, last);
  const frame = usePlayer((player) => player.frame);
  if (!slip) return null;
  const n = Math.min(Math.max(frame - slip.first, 0), slip.amounts.length - 1);
  const [x = 0, y = 0, z = 0] = slip.points.slice(3 * n, 3 * n + 3);
  const [dx = 0, dy = 0, dz = 0] = slip.vectors.slice(3 * n, 3 * n + 3);
  return (
    <>
      <mesh position={[x, y, z]} renderOrder={5}>
        <sphereGeometry args={[0.035, 12, 8]} />
        <meshBasicMaterial color={ink.ahead} depthTest={false} transparent />
      </mesh>
      {Math.hypot(dx, dy, dz) > 1e-6 && (
        <Line points={[[x, y, z], [x + stretch * dx, y + stretch * dy, z + stretch * dz]]} color={ink.trouble} lineWidth={3} depthTest={false} renderOrder={6} />
      )}
    </>
  );
}
