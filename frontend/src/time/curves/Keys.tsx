import { memo } from "react";

import type { Curve, Key } from "../../api/client";
import type { Scales } from "../../shared/scales";
import { isShown } from "../../shared/scales";
import { byFinger } from "../../shared/fingers";
import { ink } from "../../shared/theme";
import { Handles } from "./Handles";
import { useKeyDrag } from "./useKeyDrag";
import type { Drag, Hands } from "./useKeyDrag";

interface Props {
  part: string;
  /** The channel, or its curve on a layer. */
  channel: string;
  curve: Curve;
  scales: Scales;
  onDragging: (busy: boolean) => void;
}

/** The keys in the plane: click to choose, Shift adds, drag moves all that are chosen; handles of
 * a chosen key bend. */
export const Keys = memo(function Keys({ part, channel, curve, scales, onDragging }: Props) {
  const { drag, chosen, hands } = useKeyDrag({ part, channel }, scales, onDragging);
  const picked = new Set(chosen);
  const carried = drag?.what === "key" && drag.moved ? drag : null;
  return (
    <g>
      {curve.keys.map((key) => {
        const held = drag?.key.frame === key.frame ? drag : null;
        const isChosen = picked.has(key.frame);
        if (!held && !(isChosen && carried) && !isShown(key.frame, scales)) return null;
        return (
          <OneKey
            key={key.frame}
            curve={curve}
            keyOf={key}
            scales={scales}
            isChosen={isChosen}
            held={held}
            carried={held || isChosen ? carried : null}
            hands={hands}
          />
        );
      })}
    </g>
  );
});

interface OneKeyProps {
  curve: Curve;
  keyOf: Key;
  scales: Scales;
  isChosen: boolean;
  /** The drag that took hold of this key. */
  held: Drag | null;
  /** The drag that carries it along. */
  carried: Drag | null;
  hands: Hands;
}

/** A key where it is, or where it is being dragged to, with its handles when it is chosen. */
const OneKey = memo(function OneKey({ curve, keyOf: key, scales, isChosen, held, carried, hands }: OneKeyProps) {
  const seen = carried
    ? { frame: key.frame + carried.frame - carried.key.frame, value: key.value + carried.value - carried.key.value }
    : key;
  const onPointer = {
    onPointerDown: (event: React.PointerEvent<SVGCircleElement>) => { hands.begin("key", key, event); },
    onPointerMove: hands.move,
    onPointerUp: hands.end,
    onPointerCancel: hands.giveUp,
  };
  return (
    <g>
      {isChosen && !carried && (
        <Handles curve={curve} keyOf={key} scales={scales} held={held} dragged={hands} />
      )}
      {byFinger && <circle cx={scales.x(seen.frame)} cy={scales.y(seen.value)} r={16} fill="transparent" {...onPointer} />}
      <circle
        role="button"
        aria-label={`key at frame ${String(seen.frame)}, value ${String(seen.value)}`}
        aria-pressed={isChosen}
        data-frame={seen.frame}
        cx={scales.x(seen.frame)}
        cy={scales.y(seen.value)}
        r={isChosen ? 5.5 : 4.5}
        fill={isChosen ? ink.ink : (key.tint?.colour ?? ink.field)}
        stroke={isChosen ? (key.tint?.colour ?? ink.field) : ink.keyEdge}
        strokeWidth="1.6"
        style={{ cursor: "move" }}
        {...onPointer}
      >
        <title>{`${key.tint ? `“${key.tint.word}”, ` : ""}frame ${String(seen.frame)}, value ${String(seen.value)} — drag to move; Alt: between frames; Shift: choose more`}</title>
      </circle>
      {held?.what === "key" && held.moved && (
        <text x={scales.x(seen.frame) + 9} y={scales.y(seen.value) - 9} fontSize="11" fontFamily="IBM Plex Mono" fill={ink.ink}>
          {`${String(Number(seen.frame.toFixed(2)))}, ${String(seen.value)}`}
        </text>
      )}
    </g>
  );
});
