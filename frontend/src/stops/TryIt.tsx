import { Button, Space } from "antd";

import type { DrivenView } from "../api/client";
import { useEdit } from "../state/useEdit";
import { poseStop, tryDriver, usePosing } from "../state/posing";
import { shown } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { tapColour } from "../shared/tapColours";
import { useSize } from "../shared/useSize";
import { ink } from "../shared/theme";

interface Props {
  set: DrivenView;
  at: number;
  tried: boolean;
}

/** Moves the driver from end to end; nothing is keyed. */
export function TryIt({ set, at, tried }: Props) {
  const edit = useEdit();
  const [low, high] = reach(set);
  return (
    <section style={{ background: ink.field, border: `1px solid ${ink.line}`, borderRadius: 8, padding: "9px 16px 6px" }}>
      <div style={{ display: "flex", alignItems: "center", minHeight: 26 }}>
        <strong>Try it</strong>
        <span style={{ color: ink.quiet, marginLeft: 5, flex: 1 }}>moves the driver to look at it; nothing is keyed</span>
        <Space>
          {tried && !set.stops.includes(at) && (
            <Button size="small" title="A stop here; the shape of every row stays" onClick={() => void edit({ do: "put stop", driven: set.id, stop: at })}>Add a stop here</Button>
          )}
          {tried && <Button size="small" title="The driver runs as it is keyed again" onClick={() => { tryDriver(null); }}>End trying</Button>}
          <NumberField label="Driver now" value={at} text={shown(at, "", 2)} step={(high - low) / 100} width={72} stamp={set} tried={tried} onTry={tryDriver} onCommit={tryDriver} />
        </Space>
      </div>
      <Track set={set} at={at} />
    </section>
  );
}

/** From where to where the driver can be tried. */
function reach(set: DrivenView): [number, number] {
  return [Math.min(set.low, ...set.stops), Math.max(set.high, ...set.stops)];
}

/** The driver's way with its stops: dragged, or moved by the arrow keys. */
function Track({ set, at }: { set: DrivenView; at: number }) {
  const { ref, width } = useSize<HTMLDivElement>();
  const [low, high] = reach(set);
  const x = (value: number) => 12 + ((value - low) / (high - low)) * Math.max(width - 24, 1);
  const move = (event: React.PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const share = (event.clientX - box.left - 12) / Math.max(box.width - 24, 1);
    const value = low + Math.min(Math.max(share, 0), 1) * (high - low);
    tryDriver(Number(value.toPrecision(4)));
  };
  return (
    <div ref={ref}>
      <svg
        width={width}
        height="52"
        role="slider"
        aria-label="Driver, tried"
        aria-valuemin={low}
        aria-valuemax={high}
        aria-valuenow={at}
        tabIndex={0}
        style={{ display: "block", touchAction: "none", userSelect: "none", cursor: "ew-resize" }}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          move(event);
        }}
        onPointerMove={(event) => { if (event.buttons & 1) move(event); }}
        onKeyDown={(event) => {
          const way = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
          if (!way) return;
          event.preventDefault();
          event.stopPropagation();
          const next = at + (way * (high - low)) / (event.shiftKey ? 10 : 100);
          tryDriver(Number(Math.min(Math.max(next, low), high).toPrecision(6)));
        }}
      >
        <line x1={x(low)} x2={x(high)} y1="20" y2="20" stroke={ink.rail} strokeWidth="3" />
        {set.stops.map((one) => <Stop key={one} stop={one} x={x(one)} />)}
        <circle cx={x(Math.min(Math.max(at, low), high))} cy="20" r="7" fill={ink.now} stroke={ink.field} strokeWidth="1.5" pointerEvents="none" />
      </svg>
    </div>
  );
}

/** A stop on the way; a press poses it. */
function Stop({ stop, x }: { stop: number; x: number }) {
  const posed = usePosing((posing) => posing.stop === stop);
  return (
    <g style={{ cursor: "pointer" }} onPointerDown={(event) => { event.stopPropagation(); if (event.button === 0) poseStop(stop); }}>
      <circle cx={x} cy="20" r="6.5" fill={posed ? tapColour.driven : ink.field} stroke={tapColour.driven} strokeWidth="1.8">
        <title>{`Pose the stop ${String(stop)}`}</title>
      </circle>
      <text x={x} y="44" textAnchor="middle" fontFamily="IBM Plex Mono" fontSize="11" fill={ink.ink}>{stop}</text>
    </g>
  );
}
