import type { ReactNode } from "react";

import type { PartView } from "../../api/client";
import { Axes } from "./Axes";

interface Props {
  kind: NonNullable<PartView["shape"]["kind"]>;
  size: [number, number, number];
  colour: string;
  /** Outlines of the solid. */
  children: ReactNode;
}

/** The simple solids that parts are drawn as. */
export function Solid({ kind, size: [x, y, z], colour, children }: Props) {
  const paint = <meshLambertMaterial color={colour} />;
  switch (kind) {
    case "box":
      return (
        <mesh>
          <boxGeometry args={[x, y, z]} />
          {paint}
          {children}
        </mesh>
      );
    case "ball":
      return (
        <mesh scale={[x, y, z]}>
          <sphereGeometry args={[0.5, 24, 16]} />
          {paint}
        </mesh>
      );
    case "rod":
      return (
        <mesh scale={[x, y, z]}>
          <cylinderGeometry args={[0.5, 0.5, 1, 16]} />
          {paint}
          {children}
        </mesh>
      );
    case "wheel":
      return <Wheel radius={x / 2} depth={z} colour={colour} />;
    case "ring":
      return (
        <mesh rotation={[Math.PI / 2, 0, 0]} scale={[x / 2, y / 2, 1]}>
          <torusGeometry args={[1, 0.012, 6, 64]} />
          {paint}
        </mesh>
      );
    case "axes":
      return <Axes length={x / 2} />;
    default:
      return null;
  }
}

const spokes = [0, 1, 2, 3].map((n) => (n * Math.PI) / 4);

/** A paddle wheel: a rim and eight blades about z. */
function Wheel({ radius, depth, colour }: { radius: number; depth: number; colour: string }) {
  return (
    <group>
      <mesh>
        <torusGeometry args={[radius, radius * 0.06, 8, 40]} />
        <meshLambertMaterial color={colour} />
      </mesh>
      {spokes.map((angle) => (
        <mesh key={angle} rotation={[0, 0, angle]}>
          <boxGeometry args={[radius * 2, radius * 0.1, depth]} />
          <meshLambertMaterial color={colour} />
        </mesh>
      ))}
    </group>
  );
}
