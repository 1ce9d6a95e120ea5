import type { ScaleLinear } from "d3-scale";
import { memo, useEffect, useRef, useState } from "react";

import { useChosenLayer } from "../../state/keying";
import { usePlayer } from "../../state/player";
import { choosePart, framesOf, useSelection } from "../../state/selection";
import { ink } from "../../shared/theme";
import { margin } from "../../shared/scales";
import { chooseLane } from "./chooseLane";
import type { LaneLine, LaneRow } from "./rows";
import { isHead } from "./rows";
import { laneHeight, nameWidth, useLaneDrag } from "./useLaneDrag";

interface Props {
  lines: LaneLine[];
  x: ScaleLinear<number, number>;
  width: number;
}

/** Keys over time, a line for each curve; of long lists only what is in sight is drawn. */
export function LaneKeys({ lines, x, width }: Props) {
  const keys = useSelection((selection) => selection.keys);
  const { by, drawn, handlers } = useLaneDrag(lines, x);
  const { ref, first, last } = useSeen(lines.length);
  const seen = lines.slice(first, last);
  return (
    <div ref={ref} style={{ position: "relative", height: lines.length * laneHeight }}>
      {seen.map((line, n) => <Name key={keyOf(line)} line={line} top={(first + n) * laneHeight} />)}
      <svg
        width={Math.max(width - nameWidth, 0)}
        height={lines.length * laneHeight}
        viewBox={`${String(nameWidth)} 0 ${String(Math.max(width - nameWidth, 1))} ${String(lines.length * laneHeight)}`}
        role="group"
        aria-label="Keys over time"
        style={{ position: "absolute", left: nameWidth, top: 0, touchAction: "none", userSelect: "none" }}
        {...handlers}
      >
        {seen.map((line, n) =>
          isHead(line) ? null : (
            <Lane key={keyOf(line)} row={line} place={first + n} x={x} width={width} chosen={framesOf(keys, line.part, line.channel)} by={by} />
          ),
        )}
        <Now x={x} height={lines.length * laneHeight} />
        {drawn}
      </svg>
    </div>
  );
}

function keyOf(line: LaneLine): string {
  return isHead(line) ? line.part : `${line.part}/${line.channel}`;
}

/** Which of so many lines are in sight of what scrolls around them. */
function useSeen(count: number) {
  const ref = useRef<HTMLDivElement>(null);
  const [[first, last], set] = useState<[number, number]>([0, 40]);
  useEffect(() => {
    const inside = ref.current;
    const around = inside?.closest(".scroll");
    if (!inside || !around) return;
    const look = () => {
      const top = around.getBoundingClientRect().top - inside.getBoundingClientRect().top;
      const from = Math.max(Math.floor(top / laneHeight) - 3, 0);
      set([from, from + Math.ceil(around.clientHeight / laneHeight) + 6]);
    };
    look();
    around.addEventListener("scroll", look);
    const observer = new ResizeObserver(look);
    observer.observe(around);
    return () => {
      around.removeEventListener("scroll", look);
      observer.disconnect();
    };
  }, [count]);
  return { ref, first, last };
}

/** The name of a line; a click chooses what it names. */
function Name({ line, top }: { line: LaneLine; top: number }) {
  const head = isHead(line);
  const own = useIsChosen(line);
  return (
    <button
      type="button"
      className="bare"
      title={head ? `Choose ${line.head}` : `Choose ${line.name}`}
      onClick={() => { if (head) choosePart(line.part); else chooseLane(line.part, line.channel); }}
      style={{
        position: "absolute", left: 0, top, width: nameWidth, height: laneHeight, lineHeight: `${String(laneHeight)}px`,
        boxSizing: "border-box", paddingLeft: head ? 12 : 16, fontSize: 11, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap",
        color: head ? ink.ink : ink.quiet, background: own ? ink.chosen : undefined,
      }}
    >
      {head ? line.head : line.short}
    </button>
  );
}

/** Whether a lane is the chosen channel's, on the layer that keys go to. */
function useIsChosen(line: LaneLine): boolean {
  const layer = useChosenLayer();
  return useSelection(({ part, channel }) => {
    if (isHead(line) || part !== line.part) return false;
    return line.channel === (layer === null ? channel : `${layer}:${channel ?? ""}`);
  });
}

interface LaneProps {
  row: LaneRow;
  place: number;
  x: ScaleLinear<number, number>;
  width: number;
  chosen: number[];
  by: number;
}

const Lane = memo(function Lane({ row, place, x, width, chosen, by }: LaneProps) {
  const y = place * laneHeight + laneHeight / 2;
  const own = useIsChosen(row);
  const [low = 0, high = width] = x.range();
  return (
    <g>
      {own && <rect x={nameWidth} y={y - laneHeight / 2} width={width} height={laneHeight} fill={ink.chosen} />}
      <line x1={margin.left} x2={width - margin.right} y1={y} y2={y} stroke={ink.grid} />
      {row.curve.keys.map(({ frame, interpolation, tint }) => {
        const isChosen = chosen.includes(frame);
        const at = x(frame + (isChosen ? by : 0));
        if (at < low - 5 || at > high + 5) return null;
        const shape = interpolation === "hold" ? <rect x={at - 4} y={y - 4} width="8" height="8" /> : <circle cx={at} cy={y} r="4.5" />;
        return (
          <g key={frame} data-lane={row.name} data-frame-lane={frame} fill={isChosen ? ink.ink : (tint?.colour ?? ink.key)} style={{ cursor: "pointer" }}>
            <title>{`${row.name}: key at ${String(frame)}, ${interpolation ?? "smooth"}${tint ? `, “${tint.word}”` : ""}`}</title>
            {shape}
            {tint && <rect x={at - 4} y={y + 6} width="8" height="2" fill={tint.colour} />}
          </g>
        );
      })}
    </g>
  );
});

function Now({ x, height }: { x: ScaleLinear<number, number>; height: number }) {
  const frame = usePlayer((player) => player.frame);
  return <line x1={x(frame)} x2={x(frame)} y1="0" y2={height} stroke={ink.now} pointerEvents="none" />;
}
