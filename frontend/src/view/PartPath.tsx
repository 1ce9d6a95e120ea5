import { useMemo } from "react";
import { BufferAttribute, BufferGeometry } from "three";

import { useSamples } from "../state/samples";
import { worldName } from "./world";

/** The way of a part's origin through the world, a point for each frame. */
export function PartPath({ part }: { part: string }) {
  const block = useSamples((samples) => samples.blocks[worldName(part)]);
  const geometry = useMemo(() => {
    if (!block || block.frames === 1) return null;
    const places = new Float32Array(block.frames * 3);
    for (let n = 0; n < block.frames; n += 1) {
      for (let axis = 0; axis < 3; axis += 1) {
        places[n * 3 + axis] = block.data[n * 12 + axis * 4 + 3] ?? 0;
      }
    }
    const made = new BufferGeometry();
    made.setAttribute("position", new BufferAttribute(places, 3));
    return made;
  }, [block]);
  if (!geometry) return null;
  return (
    <points geometry={geometry}>
      <pointsMaterial color="#0E6F73" size={3} sizeAttenuation={false} depthTest={false} transparent />
    </points>
  );
}
