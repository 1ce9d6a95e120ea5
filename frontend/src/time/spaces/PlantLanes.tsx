import { Button } from "antd";
import type { ScaleLinear } from "d3-scale";
import { useState } from "react";

import type { OneEdit } from "../../api/client";
import { plantFields } from "../../ledger/binding/settings";
import { openPopup } from "../../state/popup";
import { feed } from "../../state/samples";
import { choosePart } from "../../state/selection";
import { useEdit } from "../../state/useEdit";
import { counted, exact } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { Popup } from "../../shared/Popup";
import { ink } from "../../shared/theme";
import { LaneFrame, laneHeight, standing } from "./LaneFrame";
import type { Grip, Plant, Span } from "./plantSpans";
import { dragged } from "./plantSpans";
import { useFrameDrag } from "./useFrameDrag";

interface LanesProps {
  plants: Plant[];
  x: ScaleLinear<number, number>;
}

/** When parts are planted: spans that are dragged, with the frames over which they join and leave. */
export function PlantLanes({ plants, x }: LanesProps) {
  return plants.map((plant) => <PlantLane key={plant.step.id} plant={plant} x={x} />);
}

/** A span that is being dragged, by what, and how far. */
interface Drag {
  n: number;
  grip: Grip;
  by: number;
}

function PlantLane({ plant, x }: { plant: Plant; x: ScaleLinear<number, number> }) {
  const { part, step } = plant;
  const [drag, setDrag] = useState<Drag | null>(null);
  const spans = drag ? dragged(plant.spans, drag.n, drag.grip, drag.by) : plant.spans;
  const [low = 0, high = 0] = x.range();
  return (
    <LaneFrame label={`Plant lane of ${part.name} · ${step.name}`} name={`${part.name} · ${step.name}`} hint={`${part.name} · ${step.name}: choose the part`} onChoose={() => { choosePart(part.id); }} x={x}>
      <div style={{ position: "absolute", left: low, width: Math.max(high - low, 0), top: 0, height: laneHeight, overflow: "hidden", opacity: step.on ? 1 : 0.4 }}>
        {spans.map((span, n) => (
          <PlantedSpan key={n} plant={plant} span={span} n={n} at={(frame) => x(frame) - low} frameOf={(px) => x.invert(px)} onDrag={setDrag} />
        ))}
      </div>
    </LaneFrame>
  );
}

interface SpanProps {
  plant: Plant;
  span: Span;
  n: number;
  at: (frame: number) => number;
  frameOf: (px: number) => number;
  onDrag: (drag: Drag | null) => void;
}

/** A span: in its middle it moves whole, at its ends it grows; the slopes beside it are how it joins and
 * leaves, the diamond is the frame whose place is kept. */
function PlantedSpan({ plant, span, n, at, frameOf, onDrag }: SpanProps) {
  const popup = `plant ${plant.step.id} ${String(n)}`;
  const dragging = (grip: Grip) => ({
    frameOf,
    onDrag: (by: number | null) => { onDrag(by === null ? null : { n, grip, by }); },
    edit: (by: number) => spansEdit(plant, dragged(plant.spans, n, grip, by)),
    onClick: () => { openPopup(popup); },
  });
  const whole = useFrameDrag(dragging("whole"));
  const first = useFrameDrag(dragging("first"));
  const last = useFrameDrag(dragging("last"));
  const keep = useFrameDrag(dragging("keep"));
  const entry = useFrameDrag(dragging("entry"));
  const exit = useFrameDrag(dragging("exit"));
  const words = `planted from ${String(span.first)} to ${String(span.last)} as on ${String(span.keep)}`;
  const [left, right] = [at(span.first), at(span.last)];
  const wide = right - left > 24;
  return (
    <>
      <Slope from={at(span.first - span.entry)} to={left} rises title={`joins over ${counted(span.entry, "frame")}: drag`} grip={entry} />
      <Slope from={right} to={at(span.last + span.exit)} title={`leaves over ${counted(span.exit, "frame")}: drag`} grip={exit} />
      <Popup byHand id={popup} title="Planted" content={(close) => <SpanForm plant={plant} n={n} onDone={close} />}>
        <button
          type="button"
          aria-label={words}
          title={`${words}: drag it, or click for its numbers`}
          onKeyDown={(event) => { if (event.key === "Enter") openPopup(popup); }}
          {...whole}
          className="bare"
          style={{ position: "absolute", left, width: Math.max(right - left, 3), top: 2, height: laneHeight - 4, boxSizing: "border-box", background: standing, border: `1px solid ${ink.quiet}`, borderRadius: 2, fontSize: 11, lineHeight: `${String(laneHeight - 6)}px`, paddingLeft: beside(at(span.keep) - left), overflow: "hidden", whiteSpace: "nowrap", cursor: "grab", touchAction: "none" }}
        >
          {right - left > 70 ? "planted" : ""}
        </button>
      </Popup>
      {wide && <span title={`first frame ${String(span.first)}: drag`} {...first} style={{ ...edge, left: left - 3 }} />}
      {wide && <span title={`last frame ${String(span.last)}: drag`} {...last} style={{ ...edge, left: right - 4 }} />}
      <span title={`keeps the place of frame ${String(span.keep)}: drag`} {...keep} style={{ position: "absolute", left: at(span.keep) - 4, top: laneHeight / 2 - 4, width: 8, height: 8, boxSizing: "border-box", background: ink.panel, border: `1.5px solid ${ink.ink}`, transform: "rotate(45deg)", cursor: "ew-resize", touchAction: "none" }} />
    </>
  );
}

/** How far in the word stands: behind the diamond, where that is in its way. */
function beside(diamond: number): number {
  return diamond > -6 && diamond < 60 ? diamond + 8 : 8;
}

const edge = { position: "absolute", top: 2, width: 7, height: laneHeight - 4, cursor: "ew-resize", touchAction: "none" } as const;

interface SlopeProps {
  from: number;
  to: number;
  rises?: boolean;
  title: string;
  grip: object;
}

/** How a span joins or leaves. */
function Slope({ from, to, rises, title, grip }: SlopeProps) {
  if (to - from < 1) return null;
  const corners = rises ? "0 100%, 100% 0, 100% 100%" : "0 0, 100% 100%, 0 100%";
  return <span title={title} {...grip} style={{ position: "absolute", left: from, width: to - from, top: 3, height: laneHeight - 6, background: ink.slope, clipPath: `polygon(${corners})`, cursor: "ew-resize", touchAction: "none" }} />;
}

function spansEdit({ step, settings }: Plant, spans: Span[]): OneEdit {
  return { do: "change step", step: step.id, settings: { ...settings, spans } };
}

/** The numbers of a span, to be typed. */
function SpanForm({ plant, n, onDone }: { plant: Plant; n: number; onDone: () => void }) {
  const edit = useEdit();
  const span = plant.spans[n];
  if (!span) return null;
  const put = (spans: Span[]) => edit(spansEdit(plant, spans));
  const typed = (key: keyof Span, value: number) => plant.spans.map((one, m) => (m === n ? { ...one, [key]: Math.round(value) } : one));
  return (
    <div style={{ display: "grid", gap: 6 }}>
      {plantFields.map(([key, hint]) => (
        <span key={key} style={{ display: "flex", justifyContent: "space-between", alignItems: "center", gap: 10, fontSize: 12 }}>
          {hint}
          <NumberField label={`${plant.step.name} ${key}`} value={span[key]} text={exact(span[key])} step={1} width={56} onTry={(value) => { feed.tryOut([spansEdit(plant, typed(key, value))]); }} onCommit={(value) => void put(typed(key, value))} />
        </span>
      ))}
      <Button size="small" style={{ justifySelf: "start" }} onClick={() => { void put(plant.spans.filter((_, m) => m !== n)).then((stored) => { if (stored) onDone(); }); }}>Take the span away</Button>
    </div>
  );
}
