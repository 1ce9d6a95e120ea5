import type { SlipView } from "../../api/client";
import { goTo, usePlayer } from "../../state/player";
import { shown } from "../../shared/format";
import { rangeOf } from "../../shared/scales";
import { useSize } from "../../shared/useSize";
import { ink } from "../../shared/theme";

const height = 54;

/** The slip of each frame over the range; a click goes to a frame. */
export function SlipCurve({ slip }: { slip: SlipView }) {
  const { ref, width } = useSize<HTMLDivElement>();
  const frame = usePlayer((player) => player.frame);
  const { amounts, first } = slip;
  const top = rangeOf([...amounts, 1e-9])[1];
  const x = (n: number) => 2 + (n / Math.max(amounts.length - 1, 1)) * Math.max(width - 4, 1);
  const y = (value: number) => height - 4 - (value / top) * (height - 18);
  const here = Math.min(Math.max(frame - first, 0), amounts.length - 1);
  return (
    <div ref={ref}>
      <svg
        width={width}
        height={height}
        role="img"
        aria-label="Slip of each frame"
        style={{ display: "block", cursor: "pointer" }}
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          goTo(first + Math.round(((event.clientX - box.left - 2) / Math.max(box.width - 4, 1)) * (amounts.length - 1)));
        }}
      >
        <polyline points={amounts.map((value, n) => `${x(n).toFixed(1)},${y(value).toFixed(1)}`).join(" ")} fill="none" stroke={ink.ahead} strokeWidth="1.4" />
        <line x1={x(here)} x2={x(here)} y1="12" y2={height} stroke={ink.ink} />
        <circle cx={x(here)} cy={y(amounts[here] ?? 0)} r="3.5" fill={ink.now} />
        <text x={2} y={10} fontSize="10.5" fontFamily="IBM Plex Mono" fill={ink.quiet}>
          here {shown(amounts[here], "m")}/frame
        </text>
      </svg>
    </div>
  );
}
