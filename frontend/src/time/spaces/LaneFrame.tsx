import type { ScaleLinear } from "d3-scale";
import type { ReactNode } from "react";

import { usePlayer } from "../../state/player";
import { ink } from "../../shared/theme";
import { margin } from "../../shared/scales";

export const laneHeight = 22;
/** What stands on the ground. */
export const standing = `repeating-linear-gradient(135deg, ${ink.standing[0]} 0 6px, ${ink.standing[1]} 6px 7px)`;

interface Props {
  label: string;
  name: string;
  hint: string;
  onChoose: () => void;
  x: ScaleLinear<number, number>;
  children: ReactNode;
}

/** A lane of spans: its name, what lies on it, and the playhead. */
export function LaneFrame({ label, name, hint, onChoose, x, children }: Props) {
  return (
    <div role="group" aria-label={label} style={{ position: "relative", height: laneHeight, userSelect: "none" }}>
      <button
        type="button"
        title={hint}
        onClick={onChoose}
        style={{ all: "unset", cursor: "pointer", position: "absolute", left: 12, width: margin.left - 18, fontSize: 11, lineHeight: `${String(laneHeight)}px`, color: ink.quiet, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}
      >
        {name}
      </button>
      {children}
      <Now x={x} />
    </div>
  );
}

function Now({ x }: { x: ScaleLinear<number, number> }) {
  const frame = usePlayer((player) => player.frame);
  return <span aria-hidden style={{ position: "absolute", left: x(frame), top: 0, bottom: 0, width: 1, background: ink.now, pointerEvents: "none" }} />;
}
