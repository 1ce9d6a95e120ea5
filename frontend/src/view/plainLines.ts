import { BufferAttribute, BufferGeometry, LineBasicMaterial, LineSegments } from "three";
import type { Color, InterleavedBufferAttribute, Object3D } from "three";
import type { LineSegments2 } from "three-stdlib";

/** Draws outlines as lines of one pixel in the place of wide ones; returns what brings these back. Wide lines are
 * triangles, many times as much work for software. */
export function withPlainLines(scene: Object3D): () => void {
  const wide: LineSegments2[] = [];
  scene.traverse((object) => { if (isOutline(object)) wide.push(object); });
  const plain = wide.map((outline) => {
    const made = new LineSegments(segmentsOf(outline), paint(outline.material.color as Color));
    made.raycast = () => undefined;
    outline.parent?.add(made);
    outline.visible = false;
    return made;
  });
  return () => {
    for (const outline of wide) outline.visible = true;
    for (const one of plain) {
      one.removeFromParent();
      one.geometry.dispose();
    }
  };
}

/** They are kept, since what draws them is made again with each new one. */
const paints = new Map<string, LineBasicMaterial>();

function paint(color: Color): LineBasicMaterial {
  const key = color.getHexString();
  const made = paints.get(key) ?? new LineBasicMaterial({ color });
  paints.set(key, made);
  return made;
}

function isOutline(object: Object3D): object is LineSegments2 {
  return "isLineSegments2" in object && !("isLine2" in object) && object.visible;
}

/** From end to end of each segment: the numbers are shared with the wide lines. */
function segmentsOf(outline: LineSegments2): BufferGeometry {
  const { data } = outline.geometry.attributes["instanceStart"] as InterleavedBufferAttribute;
  return new BufferGeometry().setAttribute("position", new BufferAttribute(data.array, 3));
}
