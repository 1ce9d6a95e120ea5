import { Alert, Button, Space } from "antd";
import { useState } from "react";

import { reason } from "../api/client";
import type { LoopsView, LoopView, RemedyView } from "../state/order";
import { counted } from "../shared/format";
import { useAbout } from "../state/order";
import { useEdit } from "../state/useEdit";
import { useOpenScene } from "../state/openScene";
import { goTo } from "../state/player";
import { choosePart } from "../state/selection";
import type { Tap } from "../shared/taps";
import { tapInk } from "../shared/tapColours";
import { ink } from "../shared/theme";
import { SmallCurves } from "./SmallCurves";
import { useWhatIf } from "./useWhatIf";

/** All loops of the scene with their remedies, and what only looks like one. */
export function LoopsPanel() {
  const { data, error } = useAbout<LoopsView>("loops");
  const parts = useOpenScene((scene) => scene.parts);
  if (error) return <Alert type="error" showIcon message={reason(error)} />;
  if (!data) return null;
  const name = (id: string) => parts[id]?.name ?? id;
  return (
    <>
      <Title text="Loops" count={data.loops.length} />
      {data.loops.map((loop) => <Loop key={loop.chain.join()} loop={loop} />)}
      {!data.loops.length && <p style={{ color: ink.quiet, margin: "0 0 10px" }}>Nothing feeds itself.</p>}
      <Title text="Looks like a loop, is not" count={data.pairs.length} />
      {data.pairs.map(({ one, other, reason: why }) => (
        <section key={`${one}/${other}`} aria-label={`${name(one)} and ${name(other)} are no loop`} style={{ ...box, borderColor: ink.line }}>
          <Pair ids={[one, other]} />
          <div style={{ color: ink.quiet, fontSize: 12 }}>{why}</div>
        </section>
      ))}
      {!data.pairs.length && <p style={{ color: ink.quiet, margin: "0 0 10px" }}>No two parts read each other.</p>}
    </>
  );
}

const box = { background: ink.field, border: "1px solid", borderRadius: 8, padding: "8px 10px", marginBottom: 10, display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 5 } as const;

function Title({ text, count }: { text: string; count: number }) {
  return (
    <div className="caps" style={{ display: "flex", padding: "8px 0 6px" }}>
      <span style={{ flex: 1 }}>{text}</span>
      <span className="mono" style={{ color: count && text === "Loops" ? ink.trouble : undefined }}>{count}</span>
    </div>
  );
}

function Pair({ ids }: { ids: string[] }) {
  const parts = useOpenScene((scene) => scene.parts);
  return (
    <strong>
      {ids.map((id, n) => (
        <span key={id}>
          {n > 0 && " ⇄ "}
          <button type="button" title="Choose it" onClick={() => { choosePart(id); }} style={{ all: "unset", cursor: "pointer" }}>{parts[id]?.name ?? id}</button>
        </span>
      ))}
    </strong>
  );
}

/** The way round without the steps between, which the sentences below tell. */
function shortChain(chain: string[]): string {
  const places = chain.filter((label) => !label.includes(" · "));
  const told = places.length > 1 ? [...places, places[0] ?? ""] : chain;
  return told.map((label) => label.replace(/ @final$/, "")).reverse().join(" ← ");
}

function Loop({ loop }: { loop: LoopView }) {
  const edit = useEdit();
  const [chosen, choose] = useState<string | null>(null);
  // As it is now: another edit may have changed what a remedy would be.
  const tried = loop.remedies.find(({ text }) => text === chosen) ?? null;
  const [all, setAll] = useState(false);
  const parts = useOpenScene((scene) => scene.parts);
  const { data } = useWhatIf(tried && { one: {}, other: { edits: tried.edits }, channels: loop.channels.slice(0, 12) });
  const shownRemedies = all ? loop.remedies : loop.remedies.slice(0, 4);
  return (
    <section aria-label={`Loop of ${loop.parts.map((id) => parts[id]?.name ?? id).join(", ")}`} style={{ ...box, borderColor: ink.troubleLine }}>
      <Pair ids={loop.parts} />
      <div className="mono" style={{ fontSize: 11, color: ink.quiet, overflowWrap: "anywhere" }}><span title={loop.chain.join(" → ")}>{shortChain(loop.chain)}</span></div>
      <ul style={{ margin: 0, paddingLeft: 16, fontSize: 12 }}>{loop.why.map((text) => <li key={text}>{text}</li>)}</ul>
      <div style={{ fontSize: 12, color: ink.quiet }}>{loop.held}</div>
      <div style={{ fontSize: 12 }}>
        {loop.frames ? (
          <>
            It makes a difference on {counted(loop.frames, "frame")}, first on{" "}
            <button type="button" onClick={() => { if (loop.first != null) goTo(loop.first); }} style={{ all: "unset", cursor: "pointer", textDecoration: "underline dotted" }}>{loop.first}</button>.
          </>
        ) : "The held value makes no difference on any frame."}
      </div>
      <div role="list" aria-label="Remedies">
        {shownRemedies.map((remedy, n) => (
          <div key={remedy.text} role="listitem" style={{ display: "flex", gap: 6, alignItems: "center", borderTop: `1px solid ${ink.line}`, padding: "4px 0", background: remedy === tried ? ink.chosen : undefined }}>
            <button type="button" title="See its curves before and after" aria-pressed={remedy === tried} onClick={() => { choose(remedy === tried ? null : remedy.text); }} style={{ all: "unset", cursor: "pointer", flex: 1, minWidth: 0, overflowWrap: "anywhere", fontSize: 12.5 }}>
              {n + 1}. <Told remedy={remedy} />
            </button>
            <Button size="small" style={{ flex: "none" }} aria-label={`Apply: ${remedy.text}`} onClick={() => void edit(...remedy.edits)}>Apply</Button>
          </div>
        ))}
      </div>
      <Space size={6}>
        {loop.remedies.length > 4 && <Button size="small" type="text" onClick={() => { setAll(!all); }}>{all ? "fewer" : `${String(loop.remedies.length - 4)} more`}</Button>}
        {!tried && loop.remedies.length > 0 && <span style={{ fontSize: 12, color: ink.quiet }}>choose one to see it before and after</span>}
        {!loop.remedies.length && <span style={{ fontSize: 12 }}>No single change breaks it; mute or change two of its steps.</span>}
      </Space>
      {tried && data && <SmallCurves view={data} most={3} />}
    </section>
  );
}

/** A remedy's words, its tap in its colour. */
function Told({ remedy }: { remedy: RemedyView }) {
  const { text, tap } = remedy;
  if (!tap || !text.endsWith(tap)) return <>{text}</>;
  return <>{text.slice(0, -tap.length)}<span style={{ color: tapInk[tap as Tap], fontWeight: 600 }}>{tap}</span></>;
}
