import { memo } from "react";
import { useNavigate } from "react-router";
import { useShallow } from "zustand/react/shallow";

import type { BeadView, StepView } from "../api/client";
import { useEdit } from "../state/useEdit";
import { useOpenScene, usePart } from "../state/openScene";
import { usePlayer } from "../state/player";
import { useSamples, useWants, valueAt } from "../state/samples";
import { chooseStep, useSelection } from "../state/selection";
import { duration, shown } from "../shared/format";
import type { Tap } from "../shared/taps";
import { tapColour } from "../shared/tapColours";
import { ink } from "../shared/theme";
import { BeadBody } from "./BeadBody";
import { LimbNote } from "./limbs/LimbNote";
import { Reads } from "./Reads";
import { Sparkline } from "./Sparkline";
import { StepTools } from "./StepTools";

interface Props {
  bead: BeadView;
  unit: string;
  part: string;
}

/** One step in the drawn ledger. */
export const Bead = memo(function Bead({ bead, unit, part }: Props) {
  const chosen = useSelection(({ step }) => bead.step !== null && step === bead.step);
  const owner = usePart(part);
  const step = owner?.steps.find(({ id }) => id === bead.step);
  const zone = bead.zone as Tap;
  const edit = useEdit();
  const place = owner?.steps.filter((one) => one.zone === zone).findIndex(({ id }) => id === bead.step) ?? 0;
  return (
    <article
      aria-label={bead.name}
      onClick={() => { chooseStep(bead.step); }}
      onDragOver={(event) => { if (step && event.dataTransfer.types.includes(dragged(zone))) event.preventDefault(); }}
      onDrop={(event) => {
        const moved = event.dataTransfer.getData(dragged(zone));
        if (step && moved && moved !== step.id) void edit({ do: "move step", step: moved, zone, position: place });
      }}
      style={{ display: "flex", gap: 8, marginBottom: 6, opacity: bead.on ? 1 : 0.55 }}
    >
      <Mark bead={bead} />
      <div style={{ flex: 1, minWidth: 0, background: ink.field, border: `1px solid ${chosen ? ink.ink : ink.line}`, borderRadius: 6, padding: "6px 10px 7px" }}>
        <Head bead={bead} step={step} part={part} />
        <BeadBody bead={bead} step={step} part={part} unit={unit} open={chosen} />
        <InAndOut bead={bead} step={step} unit={unit} />
        {step?.settings.kind === "limb" && !chosen && <LimbOf id={step.settings.limb} />}
        <Reads bead={bead} />
        <Notes bead={bead} />
      </div>
    </article>
  );
});

/** What the step is called; drags it to another place in its zone. */
function Head({ bead, step, part }: { bead: BeadView; step: StepView | undefined; part: string }) {
  return (
    <div
      draggable={step !== undefined}
      title={step ? "Drag it to another place in its zone" : undefined}
      onDragStart={(event) => { if (step) event.dataTransfer.setData(dragged(bead.zone as Tap), step.id); }}
      style={{ display: "flex", gap: 8, alignItems: "baseline", cursor: step ? "grab" : undefined }}
    >
      <strong style={{ flex: 1, minWidth: 0, overflowWrap: "anywhere" }}>{bead.name}</strong>
      <span style={{ color: ink.quiet, fontSize: 12 }}>{bead.kind}</span>
      {step && <StepTools step={step} part={part} />}
    </div>
  );
}

/** What comes in and goes out on this frame and over time, and how long that took. */
function InAndOut({ bead, step, unit }: { bead: BeadView; step: StepView | undefined; unit: string }) {
  return (
    <div style={{ display: "flex", alignItems: "center", flexWrap: "wrap", gap: "0 8px", marginTop: 3 }}>
      <span className="mono" style={{ flex: 1, fontSize: 12, whiteSpace: "nowrap" }}>
        <Values nodes={before(bead)} unit={unit} />
        <span style={{ color: ink.quiet }}> → </span>
        <strong><Values nodes={after(bead)} unit={unit} /></strong>
      </span>
      <span style={{ display: "grid", justifyItems: "end", marginLeft: "auto" }}>
        {bead.outgoing !== null && <Sparkline node={bead.outgoing} colour={tapColour[bead.zone as Tap]} />}
        {step?.on && <span className="mono" title="How long this step took when it was last computed" style={{ fontSize: 10.5, lineHeight: "12px", color: ink.quiet }}>{duration(bead.cost)}</span>}
      </span>
    </div>
  );
}

/** What the limb of a chain's part says of this frame. */
function LimbOf({ id }: { id: string }) {
  const limb = useOpenScene((scene) => scene.header.limbs.find((one) => one.id === id));
  return limb ? <LimbNote limb={limb} /> : null;
}

/** How a dragged step of a zone is told from other things. */
function dragged(zone: Tap): string {
  return `application/x-bindu-step-${zone}`;
}

/** The nodes before a step: one, or of a whole group three. */
function before(bead: BeadView): string[] {
  return bead.incomings.length ? bead.incomings : bead.incoming === null ? [] : [bead.incoming];
}

function after(bead: BeadView): string[] {
  return bead.outgoings.length ? bead.outgoings : bead.outgoing === null ? [] : [bead.outgoing];
}

function Values({ nodes, unit }: { nodes: string[]; unit: string }) {
  const values = useValues(nodes);
  if (!values.length) return <>—</>;
  return <>{values.map((value) => (value === undefined ? "…" : shown(value, unit, nodes.length > 1 ? 2 : undefined))).join(", ")}</>;
}

/** The values of nodes on this frame. */
function useValues(nodes: string[]): (number | undefined)[] {
  useWants(nodes);
  const blocks = useSamples(useShallow((samples) => nodes.map((node) => samples.blocks[node])));
  const first = useSamples((samples) => samples.first);
  const frame = usePlayer((player) => player.frame);
  return blocks.map((block) => valueAt(block, frame, first));
}

function Notes({ bead }: { bead: BeadView }) {
  const style = { fontSize: 11.5, color: ink.trouble };
  return (
    <>
      {!bead.on && <div style={{ fontSize: 11.5 }}>muted</div>}
      {bead.held && <div style={style}>held: a loop feeds this value; <ToLoops /></div>}
      {bead.broken_from != null && (
        <div style={style}>
          No finite number on {bead.broken_frames} frames, first on {bead.broken_from}; held there at
          the value that came in.
        </div>
      )}
    </>
  );
}

/** Opens the list of loops. */
function ToLoops() {
  const navigate = useNavigate();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  return (
    <button type="button" onClick={() => void navigate(`/scenes/${String(sceneId)}/wiring${window.location.search}`)} style={{ all: "unset", cursor: "pointer", textDecoration: "underline dotted" }}>
      see its remedies
    </button>
  );
}

/** Filled = changes the value here, hollow = no effect here, faded = muted. */
function Mark({ bead }: { bead: BeadView }) {
  const came = useValues(before(bead));
  const went = useValues(after(bead));
  const starts = !came.length;
  // Keys, and a value given by hand, set what the string begins with.
  const changes = bead.on && (starts ? bead.kind !== "value" || !bead.description.includes("default") : came.some((value, n) => value !== undefined && value !== went[n]));
  const colour = tapColour[bead.zone as Tap];
  const words = !bead.on ? "muted" : starts ? (changes ? "sets the value" : "where the value starts") : changes ? "changes the value here" : "no effect here";
  return (
    <svg width="20" height="26" style={{ flex: "none", zIndex: 1, marginTop: 4 }} role="img" aria-label={words}>
      <title>{words}</title>
      <circle cx="10" cy="13" r="8" fill={ink.panel} stroke={colour} strokeWidth="1.5" />
      {changes && <circle cx="10" cy="13" r="5" fill={colour} />}
    </svg>
  );
}
