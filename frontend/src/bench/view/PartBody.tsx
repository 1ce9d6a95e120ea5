import { Edges } from "@react-three/drei";
import { useFrame } from "@react-three/fiber";
import { memo, useRef } from "react";
import type { Group } from "three";

import { usePart } from "../../state/openScene";
import { useSamples } from "../../state/samples";
import { choosePart } from "../../state/selection";
import { ink } from "../../theme";
import { Axes } from "./Axes";
import { Solid } from "./Solid";
import { matrixAt, worldName } from "./world";

interface Props {
  id: string;
  chosen: boolean;
}

/** A part's shape at its place on the playhead's frame. */
export const PartBody = memo(function PartBody({ id, chosen }: Props) {
  const shape = usePart(id)?.shape;
  const group = useRef<Group>(null);
  useFrame(() => {
    const found = matrixAt(useSamples.getState().blocks[worldName(id)], group.current?.matrix);
    if (group.current) {
      group.current.visible = found !== null;
      group.current.matrixWorldNeedsUpdate = true;
    }
  });
  if (!shape) return null;
  const { kind, size, offset, colour } = shape;
  return (
    <group
      ref={group}
      matrixAutoUpdate={false}
      onClick={(event) => {
        event.stopPropagation();
        choosePart(id);
      }}
    >
      <group position={offset ?? [0, 0, 0]}>
        <Solid kind={kind ?? "none"} size={size ?? [1, 1, 1]} colour={colour ?? ink.line}>
          <Edges threshold={30} color={chosen ? ink.now : ink.ink} lineWidth={chosen ? 2 : 1} />
        </Solid>
      </group>
      {chosen && <Axes length={0.9} />}
    </group>
  );
});
