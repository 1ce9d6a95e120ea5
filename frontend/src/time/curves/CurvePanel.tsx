import { Button } from "antd";
import type { ReactNode } from "react";
import { memo, useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";

import type { ChannelView, Curve, PartView } from "../../api/client";
import { useShortcuts } from "../../commands/shortcuts";
import { keyedCurve, keyedId, useKeyState } from "../../state/keying";
import { useChosenChannel, useChosenPart, useOpenScene } from "../../state/openScene";
import type { CurveRef } from "../../state/curveSet";
import { curvesBeside, useCurveSet } from "../../state/curveSet";
import { usePlayer } from "../../state/player";
import type { Block } from "../../state/samples";
import { useSamples, useWants, valueAt } from "../../state/samples";
import { useChosenFrames, useSelection } from "../../state/selection";
import { showFrames, useTimeWindow } from "../../state/timeWindow";
import { shown, tick } from "../../shared/format";
import { tapColour } from "../../shared/tapColours";
import { taps } from "../../shared/taps";
import { useSize } from "../../shared/useSize";
import { ink } from "../../shared/theme";
import { CompareMenu } from "../compare/CompareMenu";
import { overlaysOf, useComparison } from "../compare/comparison";
import { Overlays } from "../compare/Overlays";
import { Lanes } from "../lanes/Lanes";
import { BaseKeys } from "./BaseKeys";
import { Curves } from "./Curves";
import { CurvesMenu } from "./CurvesMenu";
import { GimbalHint } from "./GimbalHint";
import { useScrub, useZoom } from "./gestures";
import { KeyBar } from "./KeyBar";
import { Keys } from "./Keys";
import type { Scales, Window } from "../../shared/scales";
import { aroundKeys, margin, pathOf, scalesOf, ticksOf, windowOf } from "../../shared/scales";
import { PartPlane } from "./PartPlane";
import { ThinCurves } from "./ThinCurves";
import { useShownTaps } from "./shownTaps";
import { TapsMenu } from "./TapsMenu";
import { useBox } from "./useBox";

/** Keys and curves of the chosen channel, its taps in the beads' colours. */
export function CurvePanel() {
  const part = useChosenPart();
  const channel = useChosenChannel();
  const layer = useKeyState((keying) => keying.layer);
  if (part && !channel) {
    return (
      <>
        <Lanes />
        <PartPlane />
      </>
    );
  }
  if (!part || !channel) {
    return (
      <>
        <Lanes />
        <p style={{ padding: "8px 16px", color: ink.quiet }}>
          Choose a channel to see its keys, and its curve at each tap.
        </p>
      </>
    );
  }
  const id = keyedId(channel, layer);
  const curve = keyedCurve(channel, layer);
  return (
    <>
      <KeyBar part={part} channel={channel} id={id} curve={curve} />
      <Lanes />
      <Plane key={`${part.id}/${id}`} part={part} channel={channel} id={id} curve={curve} />
    </>
  );
}

/** Whether nothing wrote in Bound, Solved or Late, so that the line would lie on the one before. */
function isRepeated(blocks: (Block | undefined)[], n: number): boolean {
  return n >= 2 && n <= 4 && blocks[n]?.key === blocks[n - 1]?.key;
}

interface Props {
  part: PartView;
  channel: ChannelView;
  /** Where the curve that is keyed now is found, and that curve. */
  id: string;
  curve: Curve | null;
}

function Plane({ part, channel, id, curve }: Props) {
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const { ref, width, height } = useSize<HTMLDivElement>();
  const { blocks, lines, own, comparison, overlays } = useLines(part.id, channel.id, id);
  const shownBlocks = [...lines.map(([, block]) => block), own, ...overlays.map(({ block }) => block)];
  const beside = useBeside();
  const { seen, frames, fixed, setFixed, show } = useWindow(part.id, id, curve, shownBlocks);
  const scales = scalesOf(seen, width, height);
  const plane = useZoom(seen, show, scales);
  const scrub = useScrub(scales);
  const box = useBox(part.id, id, curve, scales);

  return (
    <div ref={ref} style={{ flex: 1, minHeight: 0, position: "relative" }}>
      <svg
        ref={plane}
        width={width}
        height={height}
        role="img"
        aria-label={`Curves of ${part.name}.${channel.name}`}
        style={{ position: "absolute", inset: 0, touchAction: "none", userSelect: "none" }}
        {...box.handlers}
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
        <ThinCurves curves={beside} first={first} last={last} scales={scales} width={width} height={height} />
        <Curves lines={lines} first={first} last={last} scales={scales} curve={channel.curve} />
        <Overlays overlays={overlays} first={first} last={last} scales={scales} />
        {own && (
          <path d={pathOf(own, first, last, scales)} fill="none" stroke={tapColour.keyed} strokeWidth="1.2" strokeDasharray="1 3">
            <title>the curve on the layer</title>
          </path>
        )}
        <Playhead scales={scales} height={height} unit={channel.unit} block={blocks[taps.indexOf("final")]} />
        {id !== channel.id && channel.curve && <BaseKeys curve={channel.curve} scales={scales} />}
        {curve && (
          <Keys
            part={part.id}
            channel={id}
            curve={curve}
            scales={scales}
            onDragging={(busy) => {
              // The window stands still under a drag, so that the key stays under the hand.
              setFixed((now) => (busy ? (now ?? seen.y) : now === seen.y ? null : now));
            }}
          />
        )}
        {box.drawn}
      </svg>
      <GimbalHint part={part} channel={channel.id} />
      <PlaneTools
        scaled={frames !== null || fixed !== null}
        fixed={fixed !== null}
        showAll={() => { showFrames(null); setFixed(null); }}
        fix={() => { setFixed(fixed ? null : seen.y); }}
      >
        <CurvesMenu curves={beside} />
        <TapsMenu />
        <CompareMenu part={part.id} channel={channel.id} comparison={comparison} />
      </PlaneTools>
    </div>
  );
}

/** The curves that stand beside the chosen one. */
function useBeside(): CurveRef[] {
  const beside = useCurveSet((set) => set.beside);
  const revision = useOpenScene((scene) => scene.header.revision);
  const chosen = useSelection(({ part, parts, channel }) => `${part ?? ""} ${channel ?? ""} ${parts.join()}`);
  const scope = useKeyState((keying) => keying.scope);
  return useMemo(() => (chosen && scope && revision >= 0 ? curvesBeside(beside) : []), [beside, revision, chosen, scope]);
}

/** What is drawn: the taps that are shown, the curve on a layer, and what is compared. */
function useLines(part: string, channel: string, id: string) {
  const on = useShownTaps((state) => state.on);
  const path = `${part}/${channel}`;
  const names = useMemo(
    () => [...taps.map((tap) => `${path}/${tap}`), `${part}/${id}/own`],
    [path, part, id],
  );
  useWants(names);
  const blocks = useSamples(useShallow((samples) => names.map((name) => samples.blocks[name])));
  const lines = useMemo(
    () => taps.map((tap, n) => [tap, blocks[n]] as const).filter(([tap], n) => on.includes(tap) && !isRepeated(blocks, n)),
    [on, blocks],
  );
  const own = id === channel ? undefined : blocks[taps.length];
  const comparison = useComparison(part, channel);
  const overlays = useMemo(() => overlaysOf(comparison), [comparison]);
  return { blocks, lines, own, comparison, overlays };
}

/** Which frames and values are seen: those that were zoomed to, or all. */
function useWindow(part: string, id: string, curve: Curve | null, blocks: (Block | undefined)[]) {
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const values = useMemo(() => curve?.keys.map((key) => key.value) ?? [], [curve]);
  const frames = useTimeWindow((window) => window.frames);
  const [fixed, setFixed] = useState<[number, number] | null>(null);
  const auto = windowOf(first, last, blocks, values);
  const seen = { x: frames ?? auto.x, y: fixed ?? auto.y };
  const chosen = useChosenFrames(part, id);
  const show = (window: Window) => {
    showFrames(window.x);
    setFixed(window.y);
  };
  useShortcuts({
    frameAll: () => {
      const some = curve?.keys.filter((key) => chosen.includes(key.frame)) ?? [];
      if (some.length < 2 || frames) {
        showFrames(null);
        setFixed(null);
      } else {
        show(aroundKeys(some.map((key) => key.frame), some.map((key) => key.value)));
      }
    },
  });
  return { seen, frames, fixed, setFixed, show };
}

interface PlaneToolsProps {
  scaled: boolean;
  fixed: boolean;
  showAll: () => void;
  fix: () => void;
  children: ReactNode;
}

/** What is chosen to be seen. */
function PlaneTools({ scaled, fixed, showAll, fix, children }: PlaneToolsProps) {
  return (
    <div style={{ position: "absolute", right: 18, top: 2, display: "flex", gap: 4 }}>
      {scaled && (
        <Button size="small" onClick={showAll}>
          Show all (F)
        </Button>
      )}
      <Button
        size="small"
        title="The value axis fits what is shown, or stays as it is"
        aria-pressed={fixed}
        onClick={fix}
      >
        values {fixed ? "fixed" : "auto"}
      </Button>
      {children}
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
          <line x1={x(frame)} x2={x(frame)} y1={margin.top} y2={height - margin.bottom} stroke={ink.grid} />
          <text x={x(frame)} y={height - 7} textAnchor="middle">{tick(frame)}</text>
        </g>
      ))}
      {ticksOf(y, unit, Math.max(height / 45, 2)).map(({ value, text }) => (
        <g key={value}>
          <line x1={margin.left} x2={width - margin.right} y1={y(value)} y2={y(value)} stroke={ink.grid} />
          <text x={margin.left - 8} y={y(value) + 3.5} textAnchor="end">{text}</text>
        </g>
      ))}
    </g>
  );
});

function Playhead({ scales: { x, y }, height, unit, block }: { scales: Scales; height: number; unit: string; block: Block | undefined }) {
  const frame = usePlayer((player) => player.frame);
  const first = useSamples((samples) => samples.first);
  const value = valueAt(block, frame, first);
  return (
    <g pointerEvents="none">
      <line x1={x(frame)} x2={x(frame)} y1={0} y2={height - margin.bottom + 4} stroke={ink.now} />
      {value !== undefined && (
        <circle cx={x(frame)} cy={y(value)} r="4.5" fill={ink.now} stroke={ink.field}>
          <title>{shown(value, unit)}</title>
        </circle>
      )}
    </g>
  );
}
