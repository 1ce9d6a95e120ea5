import { useFrame } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import type { Group } from "three";
import { BufferAttribute, BufferGeometry } from "three";

import { useBlock, useSamples } from "../state/samples";
import { useShowing } from "../state/showing";
import { ink } from "../shared/theme";
import { matrixAt } from "./matrix";
import { pathName } from "./paths";
import { worldName } from "./world";

/** The way of a point on a part through the world, or through another part as that stands now: a tick for
 * each frame, a large one where its way stands out of an even motion. */
export function PartPath({ part }: { part: string }) {
  const showing = useShowing((showing) => showing.pathsIn);
  const block = useBlock(pathName(part, showing));
  const group = useRef<Group>(null);
  const space = showing.space;
  useFrame(() => {
    if (!group.current || space === null) return;
    const found = matrixAt(useSamples.getState().blocks[worldName(space)], group.current.matrix);
    if (found) group.current.matrixWorldNeedsUpdate = true;
  });
  const [even, uneven] = useMemo(() => {
    if (!block || block.frames === 1) return [null, null];
    const places: [number[], number[]] = [[], []];
    for (let n = 0; n < block.frames; n += 1) {
      const [x = 0, y = 0, z = 0, out = 0] = block.data.subarray(n * 4, n * 4 + 4);
      places[out === 0 ? 0 : 1].push(x, y, z);
    }
    return places.map((numbers) => new BufferGeometry().setAttribute("position", new BufferAttribute(new Float32Array(numbers), 3)));
  }, [block]);
  useEffect(() => () => {
    even?.dispose();
    uneven?.dispose();
  }, [even, uneven]);
  if (!even || !uneven) return null;
  return (
    <group key={space ?? "0"} ref={group} matrixAutoUpdate={space === null}>
      <Ticks geometry={even} size={3} colour={ink.ahead} />
      <Ticks geometry={uneven} size={8} colour={ink.trouble} />
    </group>
  );
}

function Ticks({ geometry, size, colour }: { geometry: BufferGeometry; size: number; colour: string }) {
  return (
    <points geometry={geometry} frustumCulled={false} renderOrder={4}>
      <pointsMaterial color={colour} size={size} sizeAttenuation={false} depthTest={false} transparent />
    </points>
  );
}
