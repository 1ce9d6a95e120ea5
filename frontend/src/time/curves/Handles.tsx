import type { Curve, Key, Tangent } from "../../api/client";
import { ink } from "../../shared/theme";
import type { Drag, Hands } from "./useKeyDrag";
import type { Scales } from "../../shared/scales";

interface HandlesProps {
  curve: Curve;
  keyOf: Key;
  scales: Scales;
  /** Where one of them is dragged to. */
  held: Drag | null;
  dragged: Hands;
}

/** The handles of a key on those sides where its segment is smooth. */
export function Handles({ curve, keyOf, scales, held: drag, dragged }: HandlesProps) {
  const place = curve.keys.indexOf(keyOf);
  const before = curve.keys[place - 1];
  const sides: ["left" | "right", Tangent | undefined, boolean][] = [
    ["left", keyOf.left, before !== undefined && (before.interpolation ?? "smooth") === "smooth"],
    [
      "right",
      keyOf.right,
      place < curve.keys.length - 1 && (keyOf.interpolation ?? "smooth") === "smooth",
    ],
  ];
  return (
    <g>
      {sides.map(([side, tangent, bends]) => {
        if (!bends || !tangent) return null;
        const held = drag?.what === side && drag.moved ? drag : null;
        const reach = reachOf(tangent, side);
        const frame = held?.frame ?? keyOf.frame + reach[0];
        const value = held?.value ?? keyOf.value + reach[1];
        return (
          <g key={side}>
            <line
              x1={scales.x(keyOf.frame)}
              y1={scales.y(keyOf.value)}
              x2={scales.x(frame)}
              y2={scales.y(value)}
              stroke={ink.quiet}
            />
            <rect
              aria-label={`${side} tangent`}
              x={scales.x(frame) - 4}
              y={scales.y(value) - 4}
              width="8"
              height="8"
              fill={ink.field}
              stroke={ink.quiet}
              style={{ cursor: "grab" }}
              onPointerDown={(event) => {
                dragged.begin(side, keyOf, event);
              }}
              onPointerMove={dragged.move}
              onPointerUp={dragged.end}
              onPointerCancel={dragged.giveUp}
            />
          </g>
        );
      })}
    </g>
  );
}

function reachOf(tangent: Tangent, side: "left" | "right"): [number, number] {
  const angle = ((tangent.angle ?? 0) * Math.PI) / 180;
  const length = (tangent.length ?? 1) * (side === "left" ? -1 : 1);
  return [length * Math.cos(angle), length * Math.sin(angle)];
}
