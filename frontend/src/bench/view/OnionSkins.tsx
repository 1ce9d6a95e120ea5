import { useFrame } from "@react-three/fiber";
import { memo, useRef } from "react";
import type { Group } from "three";

import { useOpenScene, usePart } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { useSamples } from "../../state/samples";
import { isDrawn, useShowing } from "../../state/showing";
import { Solid } from "./Solid";
import { isSeen, matrixAt, worldName } from "./world";

const steps = [-12, -6, 6, 12];

/** The poses some frames before (slate) and after (teal) the playhead. */
export function OnionSkins() {
  const order = useOpenScene((scene) => scene.order);
  return steps.map((step) => order.map((id) => <Ghost key={`${id} ${String(step)}`} id={id} step={step} />));
}

const Ghost = memo(function Ghost({ id, step }: { id: string; step: number }) {
  const part = usePart(id);
  const drawn = useShowing((showing) => part !== undefined && isDrawn(showing, part));
  const group = useRef<Group>(null);
  useFrame(() => {
    if (!group.current) return;
    const { blocks, first, last } = useSamples.getState();
    const frame = usePlayer.getState().frame + step;
    const found = matrixAt(blocks[worldName(id)], group.current.matrix, frame);
    group.current.visible = found !== null && frame >= first && frame <= last && isSeen(id);
    group.current.matrixWorldNeedsUpdate = true;
  });
  if (!part || !drawn) return null;
  const { kind, size, offset } = part.shape;
  return (
    <group ref={group} matrixAutoUpdate={false}>
      <group position={offset ?? [0, 0, 0]}>
        <Solid kind={kind ?? "none"} size={size ?? [1, 1, 1]} colour={step < 0 ? "#7B8791" : "#0E6F73"} edge="" edgeWidth={0} ghost />
      </group>
    </group>
  );
});
