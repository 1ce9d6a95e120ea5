import { useMemo } from "react";
import { BufferGeometry, DataTexture, DoubleSide, Float32BufferAttribute, RepeatWrapping } from "three";

/** How far one strip of a belt is from the next, in metres. */
export const stripPeriod = 0.2;
const around = 64;

interface Props {
  size: [number, number, number];
  colour: string;
  ghost: boolean;
}

/** A belt that runs about z over two drums, with strips across, so that its running can be seen. */
export function Belt({ size: [x, y, z], colour, ghost }: Props) {
  const geometry = useMemo(() => loop(x, y, z), [x, y, z]);
  const strips = useMemo(() => {
    const made = new DataTexture(new Uint8Array([255, 255, 255, 255, 255, 255, 255, 255, 120, 120, 120, 255, 255, 255, 255, 255]), 4, 1);
    made.wrapS = RepeatWrapping;
    made.needsUpdate = true;
    return made;
  }, []);
  return (
    <mesh geometry={geometry}>
      <meshLambertMaterial color={colour} map={strips} side={DoubleSide} {...(ghost ? { transparent: true, opacity: 0.22, depthWrite: false } : {})} />
    </mesh>
  );
}

/** A band around two half circles; u counts the way in strips. */
function loop(x: number, y: number, z: number): BufferGeometry {
  const radius = y / 2;
  const straight = Math.max(x - y, 0);
  const length = 2 * straight + 2 * Math.PI * radius;
  const places: number[] = [];
  const ways: number[] = [];
  const faces: number[] = [];
  for (let n = 0; n <= around; n += 1) {
    const way = (n / around) * length;
    const [px, py] = pointAt(way, straight, radius);
    for (const side of [-0.5, 0.5]) {
      places.push(px, py, side * z);
      ways.push(way / stripPeriod, side + 0.5);
    }
    if (n < around) faces.push(2 * n, 2 * n + 1, 2 * n + 2, 2 * n + 1, 2 * n + 3, 2 * n + 2);
  }
  const made = new BufferGeometry();
  made.setAttribute("position", new Float32BufferAttribute(places, 3));
  made.setAttribute("uv", new Float32BufferAttribute(ways, 2));
  made.setIndex(faces);
  made.computeVertexNormals();
  return made;
}

/** A point of the band, from the left end of its upper side on. */
function pointAt(way: number, straight: number, radius: number): [number, number] {
  const bend = Math.PI * radius;
  if (way < straight) return [way - straight / 2, radius];
  if (way < straight + bend) {
    const angle = Math.PI / 2 - (way - straight) / radius;
    return [straight / 2 + radius * Math.cos(angle), radius * Math.sin(angle)];
  }
  if (way < 2 * straight + bend) return [straight / 2 - (way - straight - bend), -radius];
  const angle = -Math.PI / 2 - (way - 2 * straight - bend) / radius;
  return [-straight / 2 + radius * Math.cos(angle), radius * Math.sin(angle)];
}
