import { useMemo } from "react";

import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { usePlayer } from "../../state/player";
import { useTimeWindow } from "../../state/timeWindow";
import type { CurveRef } from "../../state/curveSet";
import { curvesBeside, toggleCurve, useCurveSet } from "../../state/curveSet";
import { tick } from "../../shared/format";
import type { Scales } from "../../shared/scales";
import { margin, scalesOf } from "../../shared/scales";
import { ink } from "../../shared/theme";
import { useSize } from "../../shared/useSize";
import { useScrub } from "./gestures";
import { ThinCurves } from "./ThinCurves";
import { useBox } from "./useBox";
import { picksOf, useThin } from "./useThin";

/** All curves of the chosen parts that move, each on a scale of its own, while no channel is chosen. */
export function PartPlane() {
  const part = useSelection((selection) => selection.part);
  const chosen = useSelection((selection) => selection.parts);
  const pinned = useCurveSet((set) => set.pinned);
  const revision = useOpenScene((scene) => scene.header.revision);
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const frames = useTimeWindow((window) => window.frames);
  const { ref, width, height } = useSize<HTMLDivElement>();
  const scales = useMemo(() => scalesOf({ x: frames ?? [first - 1, last + 1], y: [0, 1] }, width, height), [frames, first, last, width, height]);
  const scrub = useScrub(scales);
  const curves = useMemo(() => (part !== null && revision >= 0 && chosen.length ? curvesBeside("nothing", pinned) : []), [part, chosen, pinned, revision]);
  const lines = useThin(curves, { first, last, scales, width, height });
  const box = useBox((inside) => picksOf(lines, inside));
  return (
    <div ref={ref} style={{ flex: 1, minHeight: 0, position: "relative" }}>
      <svg width={width} height={height} role="img" aria-label="Curves of the chosen parts" style={{ position: "absolute", inset: 0, touchAction: "none", userSelect: "none" }} {...box.handlers}>
        {scales.x.ticks(Math.max(width / 90, 2)).map((frame) => (
          <g key={frame} pointerEvents="none" fontFamily="IBM Plex Mono" fontSize="10.5" fill={ink.quiet}>
            <line x1={scales.x(frame)} x2={scales.x(frame)} y1={8} y2={height - margin.bottom} stroke={ink.grid} />
            <text x={scales.x(frame)} y={height - 7} textAnchor="middle">{tick(frame)}</text>
          </g>
        ))}
        <rect x={margin.left} y={Math.max(height - margin.bottom, 0)} width={Math.max(width - margin.left - margin.right, 0)} height={margin.bottom} fill="transparent" style={{ cursor: "ew-resize" }} {...scrub} />
        <ThinCurves lines={lines} scales={scales} height={height} />
        <Playhead scales={scales} height={height} />
        {box.drawn}
      </svg>
      <div style={{ position: "absolute", left: 12, top: 2, width: margin.left - 18, color: ink.quiet, fontSize: 11.5 }}>
        <p style={{ margin: 0 }}>
          {curves.length ? "Each curve on its own scale; a click chooses one." : `Nothing moves ${chosen.length > 1 ? "these parts" : "this part"} yet. Choose a channel and press D to key it.`}
        </p>
        <Pinned curves={curves.filter(({ key }) => pinned.includes(key))} />
      </div>
    </div>
  );
}

/** The curves that stay whatever is chosen; a click lets go of one. */
function Pinned({ curves }: { curves: CurveRef[] }) {
  if (!curves.length) return null;
  return (
    <ul aria-label="Pinned curves" style={{ listStyle: "none", margin: "4px 0 0", padding: 0 }}>
      {curves.map(({ key, name }) => (
        <li key={key}>
          <button type="button" className="bare" aria-label={`Unpin ${name}`} title={`${name} is pinned: it stays whatever is chosen. A click unpins it.`} onClick={() => { toggleCurve(key, "pinned"); }} style={{ display: "flex", gap: 4, maxWidth: "100%", color: ink.ink }}>
            <span style={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{name}</span> ×
          </button>
        </li>
      ))}
    </ul>
  );
}

function Playhead({ scales, height }: { scales: Scales; height: number }) {
  const now = usePlayer((player) => player.frame);
  return <line x1={scales.x(now)} x2={scales.x(now)} y1={0} y2={height - margin.bottom + 4} stroke={ink.now} pointerEvents="none" />;
}
