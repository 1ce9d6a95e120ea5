import { useMemo } from "react";
import { BufferGeometry, Color, Float32BufferAttribute } from "three";

import { ink } from "../shared/theme";

/** Metres from the middle to the edge. */
const reach = 20;
/** Metres: lines are drawn in pieces of this length, since software draws no line of which a part lies behind
 * the eye. */
const piece = 2;

/** The floor: lines a metre apart, those through the middle darker. */
export function Floor() {
  const geometry = useMemo(floorLines, []);
  return (
    // First and without depth: what lies in the floor, such as axes, is drawn over it.
    <lineSegments geometry={geometry} renderOrder={-1}>
      <lineBasicMaterial vertexColors toneMapped={false} depthWrite={false} />
    </lineSegments>
  );
}

function floorLines(): BufferGeometry {
  const places: number[] = [];
  const colours: number[] = [];
  for (let line = -reach; line <= reach; line += 1) {
    const { r, g, b } = new Color(line === 0 ? ink.floorLine : ink.floor);
    for (let from = -reach; from < reach; from += piece) {
      places.push(line, 0, from, line, 0, from + piece, from, 0, line, from + piece, 0, line);
      for (let end = 0; end < 4; end += 1) colours.push(r, g, b);
    }
  }
  return new BufferGeometry()
    .setAttribute("position", new Float32BufferAttribute(places, 3))
    .setAttribute("color", new Float32BufferAttribute(colours, 3));
}
