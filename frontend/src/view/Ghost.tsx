import type { ThreeEvent } from "@react-three/fiber";
import { useFrame } from "@react-three/fiber";
import { memo, useRef } from "react";
import type { Group, Matrix4 } from "three";

import { usePart } from "../state/openScene";
import { usePlayer } from "../state/player";
import { choosePart } from "../state/selection";
import { isDrawn, useShowing } from "../state/showing";
import { ink } from "../shared/theme";
import { wasDrag } from "./clicks";
import { Solid } from "./Solid";

interface Props {
  id: string;
  /** The colour of a pale copy; left out, the part looks as it does. */
  pale?: string;
  /** Where it is when the playhead is on a frame; null: nowhere. */
  place: (into: Matrix4, frame: number) => Matrix4 | null;
}

/** A part's shape where it is not: on another frame, or in another version of the scene. */
export const Ghost = memo(function Ghost({ id, pale, place }: Props) {
  const part = usePart(id);
  const drawn = useShowing((showing) => part !== undefined && isDrawn(showing, part));
  const group = useRef<Group>(null);
  useFrame(() => {
    if (!group.current) return;
    group.current.visible = place(group.current.matrix, usePlayer.getState().frame) !== null;
    group.current.matrixWorldNeedsUpdate = true;
  });
  if (!part || !drawn) return null;
  const { kind, size, offset, colour } = part.shape;
  return (
    <group ref={group} matrixAutoUpdate={false} {...(pale ? {} : { onClick: (event: ThreeEvent<MouseEvent>) => { if (wasDrag(event)) return; event.stopPropagation(); choosePart(id); } })}>
      <group position={offset ?? [0, 0, 0]}>
        <Solid kind={kind ?? "none"} size={size ?? [1, 1, 1]} colour={pale ?? colour ?? ink.line} edge={ink.ink} edgeWidth={1} ghost={pale !== undefined} />
      </group>
    </group>
  );
});
