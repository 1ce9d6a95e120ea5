import { useState } from "react";

import type { ChannelView, Curve, Key, OneEdit, PartView, Tangent } from "../../api/client";
import { useEdit } from "../../shell/useEdit";
import { feed } from "../../state/samples";
import { chooseKeys, useSelection } from "../../state/selection";
import { ink } from "../../theme";
import type { Scales } from "./scales";

interface Props {
  part: PartView;
  channel: ChannelView;
  curve: Curve;
  scales: Scales;
  onDragging: (busy: boolean) => void;
}

interface Drag {
  what: "key" | "left" | "right";
  key: Key;
  frame: number;
  value: number;
  moved: boolean;
}

/** The keys in the plane: click to choose, drag to move; handles of the chosen key bend. */
export function Keys({ part, channel, curve, scales, onDragging }: Props) {
  const edit = useEdit();
  const chosen = useSelection((selection) => selection.keys);
  const [drag, setDrag] = useState<Drag | null>(null);
  const where = { part: part.id, channel: channel.id };

  const editOf = (now: Drag): OneEdit => {
    const { frame } = now.key;
    if (now.what === "key") {
      return { do: "change keys", ...where, changes: [{ frame, to_frame: now.frame, value: now.value }] };
    }
    const tangent = tangentTo(now);
    const mode = now.key.mode === "broken" ? "broken" : "joined";
    const bent = now.what === "left" ? { left: tangent } : { right: tangent };
    return { do: "change keys", ...where, changes: [{ frame, mode, ...bent }] };
  };
  const begin = (what: Drag["what"], key: Key, event: React.PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    chooseKeys([key.frame]);
    setDrag({ what, key, frame: key.frame, value: key.value, moved: false });
    onDragging(true);
  };
  const move = (event: React.PointerEvent<SVGElement>) => {
    if (!drag) return;
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!box) return;
    const at = scales.x.invert(event.clientX - box.left);
    const value = scales.y.invert(event.clientY - box.top);
    const frame = drag.what === "key" && !event.altKey ? Math.round(at) : at;
    const moved = { ...drag, frame, value: rounded(value, scales), moved: true };
    setDrag(moved);
    feed.tryOut([editOf(moved)]);
  };
  const end = () => {
    const now = drag;
    setDrag(null);
    onDragging(false);
    if (!now?.moved) return;
    if (now.what === "key") chooseKeys([now.frame]);
    void edit(editOf(now)).then((stored) => {
      if (!stored) chooseKeys([now.key.frame]);
    });
  };

  return (
    <g>
      {curve.keys.map((key) => {
        const held = drag?.key.frame === key.frame ? drag : null;
        const seen = held?.what === "key" ? { ...key, frame: held.frame, value: held.value } : key;
        const isChosen = chosen.includes(key.frame);
        return (
          <g key={key.frame}>
            {isChosen && !(held?.what === "key") && (
              <Handles curve={curve} keyOf={key} scales={scales} drag={held} begin={begin} move={move} end={end} />
            )}
            <circle
              role="button"
              aria-label={`key at frame ${String(seen.frame)}, value ${String(seen.value)}`}
              aria-pressed={isChosen}
              data-frame={seen.frame}
              cx={scales.x(seen.frame)}
              cy={scales.y(seen.value)}
              r={isChosen ? 5.5 : 4.5}
              fill={isChosen ? ink.ink : "#fff"}
              stroke={isChosen ? "#fff" : "#5B666F"}
              strokeWidth="1.6"
              style={{ cursor: "move" }}
              onPointerDown={(event) => {
                begin("key", key, event);
              }}
              onPointerMove={move}
              onPointerUp={end}
              onPointerCancel={end}
            >
              <title>{`frame ${String(seen.frame)}, value ${String(seen.value)} — drag to move; Alt: between frames`}</title>
            </circle>
            {held?.what === "key" && held.moved && (
              <text
                x={scales.x(seen.frame) + 9}
                y={scales.y(seen.value) - 9}
                fontSize="11"
                fontFamily="IBM Plex Mono"
                fill={ink.ink}
              >
                {`${String(Number(seen.frame.toFixed(2)))}, ${String(seen.value)}`}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

interface HandlesProps {
  curve: Curve;
  keyOf: Key;
  scales: Scales;
  drag: Drag | null;
  begin: (what: Drag["what"], key: Key, event: React.PointerEvent) => void;
  move: (event: React.PointerEvent<SVGElement>) => void;
  end: () => void;
}

/** The handles of a key on those sides where its segment is smooth. */
function Handles({ curve, keyOf, scales, drag, begin, move, end }: HandlesProps) {
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
              fill="#fff"
              stroke={ink.quiet}
              style={{ cursor: "grab" }}
              onPointerDown={(event) => {
                begin(side, keyOf, event);
              }}
              onPointerMove={move}
              onPointerUp={end}
              onPointerCancel={end}
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

function tangentTo(drag: Drag): Tangent {
  const sign = drag.what === "left" ? -1 : 1;
  const frames = Math.max((drag.frame - drag.key.frame) * sign, 1e-3);
  const value = (drag.value - drag.key.value) * sign;
  return { angle: (Math.atan2(value, frames) * 180) / Math.PI, length: Math.hypot(frames, value) };
}

/** As many digits as a pixel can mean. */
function rounded(value: number, { y }: Scales) {
  const pixel = Math.abs(y.invert(0) - y.invert(1));
  const digits = Math.min(Math.max(Math.ceil(-Math.log10(pixel)), 0), 8);
  return Number(value.toFixed(digits));
}
