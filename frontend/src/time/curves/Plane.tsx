import { useMemo } from "react";

import type { ChannelView, Curve, PartView } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import type { Block } from "../../state/samples";
import { useSamples, valueAt } from "../../state/samples";
import { shown } from "../../shared/format";
import type { Scales } from "../../shared/scales";
import { isShown, margin, pathOf, scalesOf } from "../../shared/scales";
import { tapColour } from "../../shared/tapColours";
import { taps } from "../../shared/taps";
import { ink } from "../../shared/theme";
import { useSize } from "../../shared/useSize";
import { Overlays } from "../compare/Overlays";
import { BaseKeys } from "./BaseKeys";
import { Curves } from "./Curves";
import { GimbalHint } from "./GimbalHint";
import { useScrub, useZoom } from "./gestures";
import { Grid } from "./Grid";
import { Keys } from "./Keys";
import { PlaneTools } from "./PlaneTools";
import { ThinCurves } from "./ThinCurves";
import { useBox } from "./useBox";
import { useBeside, useLines } from "./useLines";
import { picksOf, useThin } from "./useThin";
import { useWindow } from "./useWindow";

interface Props {
  part: PartView;
  channel: ChannelView;
  /** Where the curve that is keyed now is found, and that curve. */
  id: string;
  curve: Curve | null;
}

/** A channel's curves at each tap, its keys, and what is laid over or beside them. */
export function Plane({ part, channel, id, curve }: Props) {
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const { ref, width, height } = useSize<HTMLDivElement>();
  const { blocks, lines, own, comparison, overlays } = useLines(part.id, channel.id, id);
  const shownBlocks = [...lines.map(([, block]) => block), own, ...overlays.map(({ block }) => block)];
  const beside = useBeside();
  const { seen, isZoomed, isFixed, show, showAll, hold, fix } = useWindow(part.id, id, curve, shownBlocks);
  const scales = useMemo(() => scalesOf(seen, width, height), [seen, width, height]);
  const plane = useZoom(seen, show, scales);
  const scrub = useScrub(scales);
  const thin = useThin(beside, { first, last, scales, width, height });
  const box = useBox((inside) => {
    const keys = (curve?.keys ?? []).filter(({ frame, value }) => isShown(frame, scales) && inside(scales.x(frame), scales.y(value)));
    return [{ part: part.id, channel: id, frames: keys.map(({ frame }) => frame) }, ...picksOf(thin, inside)];
  });

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
        <Ruler width={width} height={height} scrub={scrub} />
        <ThinCurves lines={thin} scales={scales} height={height} />
        <Curves lines={lines} first={first} last={last} scales={scales} curve={channel.curve} />
        <Overlays overlays={overlays} first={first} last={last} scales={scales} />
        {own && (
          <path d={pathOf(own, first, last, scales)} fill="none" stroke={tapColour.keyed} strokeWidth="1.2" strokeDasharray="1 3">
            <title>the curve on the layer</title>
          </path>
        )}
        <Playhead scales={scales} height={height} unit={channel.unit} block={blocks[taps.indexOf("final")]} />
        {id !== channel.id && channel.curve && <BaseKeys curve={channel.curve} scales={scales} />}
        {curve && <Keys part={part.id} channel={id} curve={curve} scales={scales} onDragging={hold} />}
        {box.drawn}
      </svg>
      <GimbalHint part={part} channel={channel.id} />
      <PlaneTools
        part={part.id}
        channel={channel.id}
        beside={beside}
        comparison={comparison}
        isZoomed={isZoomed}
        isFixed={isFixed}
        showAll={showAll}
        fix={fix}
      />
    </div>
  );
}

function Ruler({ width, height, scrub }: { width: number; height: number; scrub: ReturnType<typeof useScrub> }) {
  return (
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
  );
}

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
