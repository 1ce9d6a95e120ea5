import { Edges } from "@react-three/drei";
import type { ReactNode } from "react";
import { useMemo } from "react";
import { ExtrudeGeometry, Shape as Outline } from "three";

import type { PartView } from "../api/client";
import { Axes } from "./Axes";
import { Belt } from "./Belt";

type Kind = NonNullable<PartView["shape"]["kind"]>;

interface Props {
  kind: Kind;
  size: [number, number, number];
  colour: string;
  /** The colour and width of the edges. */
  edge: string;
  edgeWidth: number;
  /** Drawn as a pose of another frame. */
  ghost?: boolean;
}

/** The simple solids and outlines that parts are drawn as, in a box of their size. */
export function Solid({ kind, size: [x, y, z], colour, edge, edgeWidth, ghost }: Props) {
  const paint = (
    <meshLambertMaterial color={colour} {...(ghost ? { transparent: true, opacity: 0.22, depthWrite: false } : {})} />
  );
  const edges = ghost ? null : <Edges threshold={30} color={edge} lineWidth={edgeWidth} />;
  switch (kind) {
    case "box":
      return <mesh><boxGeometry args={[x, y, z]} />{paint}{edges}</mesh>;
    case "plate":
      return <mesh><boxGeometry args={[x, Math.min(y, 0.02), z]} />{paint}{edges}</mesh>;
    case "ball":
      return <mesh scale={[x, y, z]}><sphereGeometry args={[0.5, 24, 16]} />{paint}</mesh>;
    case "rod":
      return <mesh scale={[x, y, z]}><cylinderGeometry args={[0.5, 0.5, 1, 16]} />{paint}{edges}</mesh>;
    case "wheel":
      return <Wheel radius={x / 2} depth={z} paint={paint} />;
    case "ring":
      return (
        <mesh rotation={[Math.PI / 2, 0, 0]} scale={[x / 2, y / 2, 1]}>
          <torusGeometry args={[1, 0.012, 6, 64]} />
          {paint}
        </mesh>
      );
    case "arrow":
    case "foot":
    case "wing":
      return <Flat kind={kind} size={[x, y, z]} paint={paint} edges={edges} />;
    case "belt":
      return <Belt size={[x, y, z]} colour={colour} ghost={ghost ?? false} />;
    case "axes":
      return ghost ? null : <Axes length={x / 2} />;
    default:
      return null;
  }
}

/** Outlines seen from above, x to the right and z forward, in a square of side 1. */
const outlines: Record<"arrow" | "foot" | "wing", [number, number][]> = {
  arrow: [[-0.5, -0.15], [0.1, -0.15], [0.1, -0.5], [0.5, 0], [0.1, 0.5], [0.1, 0.15], [-0.5, 0.15]],
  foot: [[-0.15, -0.5], [0.15, -0.5], [0.22, 0.1], [0.5, 0.35], [0.25, 0.42], [0.05, 0.5], [-0.05, 0.5], [-0.25, 0.42], [-0.5, 0.35], [-0.22, 0.1]],
  wing: [[-0.5, -0.5], [-0.1, -0.38], [0.3, -0.1], [0.5, 0.3], [0.42, 0.5], [0.1, 0.3], [-0.3, 0.18], [-0.5, 0.15]],
};

interface FlatProps {
  kind: "arrow" | "foot" | "wing";
  size: [number, number, number];
  paint: ReactNode;
  edges: ReactNode;
}

/** A plate cut after an outline: an arrow along x, a foot or a wing. */
function Flat({ kind, size: [x, y, z], paint, edges }: FlatProps) {
  const geometry = useMemo(() => {
    const outline = new Outline();
    outlines[kind].forEach(([a, b], n) => {
      if (n) outline.lineTo(a, b);
      else outline.moveTo(a, b);
    });
    const made = new ExtrudeGeometry(outline, { depth: 1, bevelEnabled: false });
    made.translate(0, 0, -0.5);
    made.rotateX(Math.PI / 2);
    return made;
  }, [kind]);
  return <mesh scale={[x, y, z]} geometry={geometry}>{paint}{edges}</mesh>;
}

const spokes = [0, 1, 2, 3].map((n) => (n * Math.PI) / 4);

/** A paddle wheel: a rim and eight blades about z. */
function Wheel({ radius, depth, paint }: { radius: number; depth: number; paint: ReactNode }) {
  return (
    <group>
      <mesh><torusGeometry args={[radius, radius * 0.06, 8, 40]} />{paint}</mesh>
      {spokes.map((angle) => (
        <mesh key={angle} rotation={[0, 0, angle]}>
          <boxGeometry args={[radius * 2, radius * 0.1, depth]} />
          {paint}
        </mesh>
      ))}
    </group>
  );
}
