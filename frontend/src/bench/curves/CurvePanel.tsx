import { useShallow } from "zustand/react/shallow";
import { memo, useEffect, useMemo, useRef, useState } from "react";

import type { ChannelView, PartView } from "../../api/client";
import { useChosenChannel, useChosenPart, useOpenScene } from "../../state/openScene";
import { useShortcuts } from "../../shell/shortcuts";
import { goTo, stop, usePlayer } from "../../state/player";
import type { Block } from "../../state/samples";
import { useSamples, useWants, valueAt } from "../../state/samples";
import { chooseKeys } from "../../state/selection";
import { shown, tick } from "../../shared/format";
import type { Tap } from "../../shared/taps";
import { tapColour, tapDash, taps } from "../../shared/taps";
import { useSize } from "../../shared/useSize";
import { ink } from "../../theme";
import { KeyBar } from "./KeyBar";
import { Keys } from "./Keys";
import { Lane } from "./Lane";
import type { Scales, Window } from "./scales";
import { margin, pathOf, scalesOf, windowOf } from "./scales";
import { useShownTaps } from "./shownTaps";

/** Keys and curves of the chosen channel, its taps in the beads' colours. */
export function CurvePanel() {
  const part = useChosenPart();
  const channel = useChosenChannel();
  if (!part || !channel) {
    return (
      <p style={{ padding: "8px 16px", color: ink.quiet }}>
        Choose a channel to see its keys, and its curve at each tap.
      </p>
    );
  }
  return (
    <>
      <KeyBar part={part} channel={channel} />
      <Plane key={`${part.id}/${channel.id}`} part={part} channel={channel} />
    </>
  );
}

interface Props {
  part: PartView;
  channel: ChannelView;
}

function Plane({ part, channel }: Props) {
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const { ref, width, height } = useSize<HTMLDivElement>();
  const on = useShownTaps((state) => state.on);
  const path = `${part.id}/${channel.id}`;
  const names = useMemo(() => taps.map((tap) => `${path}/${tap}`), [path]);
  useWants(names);
  const blocks = useSamples(useShallow((samples) => names.map((name) => samples.blocks[name])));
  const lines = useMemo(
    () => taps.map((tap, n) => [tap, blocks[n]] as const).filter(([tap]) => on.includes(tap)),
    [on, blocks],
  );
  const values = useMemo(() => channel.curve?.keys.map((key) => key.value) ?? [], [channel.curve]);
  const [fixed, setFixed] = useState<Window | null>(null);
  const auto = windowOf(first, last, lines.map(([, block]) => block), values);
  const seen = fixed ?? auto;
  const scales = scalesOf(seen, width, height);
  useShortcuts({ frameAll: () => { setFixed(null); } });
  const plane = useZoom(seen, setFixed, scales);
  const scrub = useScrub(scales);

  return (
    <div style={{ flex: 1, minHeight: 0, display: "flex", flexDirection: "column" }}>
      <Lane part={part} channel={channel} scales={scales} />
      <div ref={ref} style={{ flex: 1, minHeight: 0, position: "relative" }}>
        <svg
          ref={plane}
          width={width}
          height={height}
          role="img"
          aria-label={`Curves of ${part.name}.${channel.name}`}
          style={{ position: "absolute", inset: 0, touchAction: "none" }}
          onPointerDown={(event) => {
            if (event.button === 0 && event.target === event.currentTarget) chooseKeys([]);
          }}
        >
          <Grid scales={scales} height={height} width={width} unit={channel.unit} />
          <rect
            data-testid="ruler"
            x={margin.left}
            y={Math.max(height - margin.bottom, 0)}
            width={Math.max(width - margin.left - margin.right, 0)}
            height={margin.bottom}
            fill="transparent"
            style={{ cursor: "ew-resize" }}
            {...scrub}
          >
            <title>Drag to move the playhead</title>
          </rect>
          <Curves lines={lines} first={first} last={last} scales={scales} />
          <Playhead scales={scales} height={height} block={blocks[taps.indexOf("final")]} />
          {channel.curve && (
            <Keys
              part={part}
              channel={channel}
              curve={channel.curve}
              scales={scales}
              onDragging={(busy) => {
                // The window stands still under a drag, so that the key stays under the hand.
                setFixed((now) => (busy ? (now ?? seen) : now === seen ? null : now));
              }}
            />
          )}
        </svg>
        {fixed && (
          <button
            type="button"
            onClick={() => {
              setFixed(null);
            }}
            style={{ position: "absolute", right: 18, top: 4, font: "inherit", cursor: "pointer" }}
          >
            Show all (F)
          </button>
        )}
      </div>
    </div>
  );
}

interface GridProps {
  scales: Scales;
  width: number;
  height: number;
  unit: string;
}

const Grid = memo(function Grid({ scales: { x, y }, width, height, unit }: GridProps) {
  if (width < 1) return null;
  return (
    <g fontFamily="IBM Plex Mono" fontSize="10.5" fill={ink.quiet} pointerEvents="none">
      {x.ticks(Math.max(width / 90, 2)).map((frame) => (
        <g key={frame}>
          <line x1={x(frame)} x2={x(frame)} y1={margin.top} y2={height - margin.bottom} stroke="#E9E4D9" />
          <text x={x(frame)} y={height - 7} textAnchor="middle">{tick(frame)}</text>
        </g>
      ))}
      {y.ticks(Math.max(height / 45, 2)).map((value) => (
        <g key={value}>
          <line x1={margin.left} x2={width - margin.right} y1={y(value)} y2={y(value)} stroke="#E9E4D9" />
          <text x={margin.left - 8} y={y(value) + 3.5} textAnchor="end">
            {tick(value)}
            {unit === "°" ? "°" : ""}
          </text>
        </g>
      ))}
    </g>
  );
});

interface CurvesProps {
  lines: (readonly [Tap, Block | undefined])[];
  first: number;
  last: number;
  scales: Scales;
}

function Curves({ lines, first, last, scales }: CurvesProps) {
  return (
    <g fill="none" pointerEvents="none">
      {lines.map(([tap, block]) =>
        block ? (
          <path
            key={tap}
            data-tap={tap}
            data-key={block.key}
            d={pathOf(block, first, last, scales)}
            stroke={tapColour[tap]}
            strokeWidth={tap === "final" ? 2.2 : 1.5}
            strokeDasharray={tapDash[tap]}
          />
        ) : null,
      )}
    </g>
  );
}

function Playhead({ scales: { x, y }, height, block }: { scales: Scales; height: number; block: Block | undefined }) {
  const frame = usePlayer((player) => player.frame);
  const first = useSamples((samples) => samples.first);
  const value = valueAt(block, frame, first);
  return (
    <g pointerEvents="none">
      <line x1={x(frame)} x2={x(frame)} y1={0} y2={height - margin.bottom + 4} stroke={ink.ink} />
      {value !== undefined && (
        <circle cx={x(frame)} cy={y(value)} r="4.5" fill={ink.now} stroke="#fff">
          <title>{shown(value)}</title>
        </circle>
      )}
    </g>
  );
}

/** Dragging the ruler moves the playhead. */
function useScrub({ x }: Scales) {
  const to = (event: React.PointerEvent<SVGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (box) goTo(x.invert(event.clientX - box.left));
  };
  return {
    onPointerDown: (event: React.PointerEvent<SVGElement>) => {
      stop();
      event.currentTarget.setPointerCapture(event.pointerId);
      to(event);
    },
    onPointerMove: (event: React.PointerEvent<SVGElement>) => {
      if (event.buttons & 1) to(event);
    },
  };
}

/** The wheel zooms about the pointer: frames, with Shift values; the middle button pans. */
function useZoom(seen: Window, set: (window: Window) => void, scales: Scales) {
  const ref = useRef<SVGSVGElement>(null);
  const latest = useRef({ seen, set, scales });
  useEffect(() => {
    latest.current = { seen, set, scales };
  });
  useEffect(() => {
    const svg = ref.current;
    if (!svg) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const { seen: now, set: apply, scales: by } = latest.current;
      const box = svg.getBoundingClientRect();
      const turn = event.deltaY || event.deltaX;
      const factor = Math.exp(turn * 0.0015);
      const about = (range: [number, number], centre: number): [number, number] => [
        centre + (range[0] - centre) * factor,
        centre + (range[1] - centre) * factor,
      ];
      const onValues = event.shiftKey || event.clientX - box.left < margin.left;
      apply(
        onValues
          ? { x: now.x, y: about(now.y, by.y.invert(event.clientY - box.top)) }
          : { x: about(now.x, by.x.invert(event.clientX - box.left)), y: now.y },
      );
    };
    const onMove = (event: PointerEvent) => {
      if (!(event.buttons & 4)) return;
      const { seen: now, set: apply, scales: by } = latest.current;
      const dx = by.x.invert(0) - by.x.invert(event.movementX);
      const dy = by.y.invert(0) - by.y.invert(event.movementY);
      apply({ x: [now.x[0] + dx, now.x[1] + dx], y: [now.y[0] + dy, now.y[1] + dy] });
    };
    svg.addEventListener("wheel", onWheel, { passive: false });
    svg.addEventListener("pointermove", onMove);
    return () => {
      svg.removeEventListener("wheel", onWheel);
      svg.removeEventListener("pointermove", onMove);
    };
  }, []);
  return ref;
}
