import { Html } from "@react-three/drei";
import { useFrame } from "@react-three/fiber";
import { memo, useMemo, useRef } from "react";
import type { Group } from "three";

import { usePart } from "../state/openScene";
import { useSamples, useWants } from "../state/samples";
import { choosePart, togglePart } from "../state/selection";
import { isDrawn, useShowing } from "../state/showing";
import { ink } from "../shared/theme";
import { Aid } from "./Aid";
import { Axes } from "./Axes";
import { Solid } from "./Solid";
import { wasDrag } from "./clicks";
import { applyLook, shownChannels } from "./look";
import { matrixAt } from "./matrix";
import { isSeen, worldName } from "./world";

interface Props {
  id: string;
  chosen: boolean;
}

/** A part's shape at its place on the playhead's frame. */
export const PartBody = memo(function PartBody({ id, chosen }: Props) {
  const part = usePart(id);
  const drawn = useShowing((showing) => part !== undefined && isDrawn(showing, part));
  const labels = useShowing((showing) => showing.labels);
  const handles = useShowing((showing) => showing.tool !== "none");
  const group = useRef<Group>(null);
  const looks = useMemo(() => shownChannels(part?.channels ?? []), [part?.channels]);
  useWants(looks.map((channel) => `${id}/${channel.id}/final`));
  useFrame(() => {
    const found = matrixAt(useSamples.getState().blocks[worldName(id)], group.current?.matrix);
    if (group.current) {
      group.current.visible = found !== null && isSeen(id);
      group.current.matrixWorldNeedsUpdate = true;
      if (part && looks.length) applyLook(group.current, id, looks, part.shape.colour ?? ink.line);
    }
  });
  if (!part || !drawn) return null;
  const { kind, size, offset, colour } = part.shape;
  return (
    <group
      ref={group}
      matrixAutoUpdate={false}
      onClick={(event) => {
        if (wasDrag(event)) return;
        event.stopPropagation();
        if (event.nativeEvent.ctrlKey || event.nativeEvent.shiftKey) togglePart(id);
        else choosePart(id);
      }}
    >
      <group position={offset ?? [0, 0, 0]}>
        <Solid
          kind={kind ?? "none"}
          size={size ?? [1, 1, 1]}
          colour={colour ?? ink.line}
          edge={chosen ? ink.picked : ink.ink}
          edgeWidth={chosen ? 2 : 1}
        />
        {labels && (
          <Html center zIndexRange={[5, 0]} style={{ pointerEvents: "none", fontSize: 11, whiteSpace: "nowrap", color: chosen ? ink.picked : ink.ink, background: `${ink.panel}BF`, padding: "0 3px", borderRadius: 3 }}>
            {part.name}
          </Html>
        )}
      </group>
      {chosen && !handles && <Aid><Axes length={Math.min(Math.max(...(size ?? [1]), 0.2), 0.9)} /></Aid>}
    </group>
  );
});
