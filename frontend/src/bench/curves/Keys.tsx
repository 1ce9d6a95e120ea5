import { useState } from "react";

import type { Curve, Key, OneEdit } from "../../api/client";
import { useEdit } from "../../shell/useEdit";
import { feed } from "../../state/samples";
import { addKeys, chooseKeys, useChosenFrames, useSelection } from "../../state/selection";
import { ink } from "../../theme";
import { movedPicks } from "../keys/keyCommands";
import { Handles, tangentTo } from "./Handles";
import type { Scales } from "./scales";

interface Props {
  part: string;
  /** The channel, or its curve on a layer. */
  channel: string;
  curve: Curve;
  scales: Scales;
  onDragging: (busy: boolean) => void;
}

export interface Drag {
  what: "key" | "left" | "right";
  key: Key;
  frame: number;
  value: number;
  moved: boolean;
}

/** The keys in the plane: click to choose, Shift adds, drag moves all that are chosen; handles of
 * a chosen key bend. */
export function Keys({ part, channel, curve, scales, onDragging }: Props) {
  const edit = useEdit();
  const chosen = useChosenFrames(part, channel);
  const [drag, setDrag] = useState<Drag | null>(null);
  const where = { part, channel };
  const only = (frame: number) => [{ ...where, frames: [frame] }];

  const editOf = (now: Drag): OneEdit => {
    const { frame } = now.key;
    if (now.what === "key") {
      const { keys } = useSelection.getState();
      const picks = keys.length ? keys : only(frame);
      const single = picks.length === 1 && picks[0]?.frames.length === 1;
      if (single) {
        return { do: "change keys", ...where, changes: [{ frame, to_frame: now.frame, value: now.value }] };
      }
      return { do: "move keys", picks, frames: now.frame - frame, value: now.value - now.key.value };
    }
    const tangent = tangentTo(now);
    const mode = now.key.mode === "broken" ? "broken" : "joined";
    const bent = now.what === "left" ? { left: tangent } : { right: tangent };
    return { do: "change keys", ...where, changes: [{ frame, mode, ...bent }] };
  };
  const begin = (what: Drag["what"], key: Key, event: React.PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    if (event.shiftKey && what === "key") {
      addKeys(only(key.frame));
      return;
    }
    event.currentTarget.setPointerCapture(event.pointerId);
    if (!chosen.includes(key.frame)) chooseKeys(only(key.frame));
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
    if (!now) return;
    if (!now.moved) {
      if (now.what === "key") chooseKeys(only(now.key.frame));
      return;
    }
    const before = useSelection.getState().keys;
    const made = editOf(now);
    if (now.what === "key") chooseKeys(movedPicks(before, now.frame - now.key.frame));
    void edit(made).then((stored) => {
      if (!stored) chooseKeys(before);
    });
  };

  return (
    <g>
      {curve.keys.map((key) => {
        const held = drag?.key.frame === key.frame ? drag : null;
        const isChosen = chosen.includes(key.frame);
        const carried = drag?.what === "key" && drag.moved && (held !== null || isChosen);
        const seen = carried
          ? { frame: key.frame + drag.frame - drag.key.frame, value: key.value + drag.value - drag.key.value }
          : key;
        return (
          <g key={key.frame}>
            {isChosen && !carried && (
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
              <title>{`frame ${String(seen.frame)}, value ${String(seen.value)} — drag to move; Alt: between frames; Shift: choose more`}</title>
            </circle>
            {held?.what === "key" && held.moved && (
              <text x={scales.x(seen.frame) + 9} y={scales.y(seen.value) - 9} fontSize="11" fontFamily="IBM Plex Mono" fill={ink.ink}>
                {`${String(Number(seen.frame.toFixed(2)))}, ${String(seen.value)}`}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

/** As many digits as a pixel can mean. */
function rounded(value: number, { y }: Scales) {
  const pixel = Math.abs(y.invert(0) - y.invert(1));
  const digits = Math.min(Math.max(Math.ceil(-Math.log10(pixel)), 0), 8);
  return Number(value.toFixed(digits));
}
