import { Button, Spin } from "antd";
import { useEffect, useMemo } from "react";

import { useBenchCommands } from "../bench/commands";
import { reasonNow } from "../api/client";
import type { ChecksView } from "../state/checks";
import { counted } from "../shared/format";
import { chooseFinding, useChecks, useFinding, useLooking, useTried } from "../state/checks";
import { useOpenScene } from "../state/openScene";
import { goTo } from "../state/player";
import { feed } from "../state/samples";
import { choosePart, useSelection } from "../state/selection";
import { ink } from "../shared/theme";
import { AmountCurve } from "./AmountCurve";
import { CheckList } from "./CheckList";
import { Filters } from "./Filters";
import { FindingPanel } from "./FindingPanel";
import { nextFinding, rowsOf, wanted } from "./order";
import { Strips } from "./Strips";

/** What is wrong, where, how much, and the remedy seen before it is applied. */
export function Checks() {
  useBenchCommands();
  const { data, looking, problem } = useChecks();
  if (!data) return problem ? <p style={{ margin: 24, color: ink.trouble }}>{reasonNow(problem)}</p> : <Spin style={{ margin: 40 }} />;
  return <Shown view={data} looking={looking} />;
}

function Shown({ view, looking }: { view: ChecksView; looking: boolean }) {
  const order = useOpenScene((scene) => scene.order);
  const chosenParts = useSelection((selection) => selection.parts);
  const { check, mine, span, hidden, finding: id } = useLooking();
  const rows = useMemo(() => rowsOf(wanted(view.findings, { check, mine, span, hidden }, chosenParts), order), [view, check, mine, span, hidden, chosenParts, order]);
  const chosen = view.findings.find((one) => one.id === id) ?? null;
  useStart(rows, chosen !== null);
  useEffect(() => {
    if (!chosen) return;
    choosePart(chosen.part);
    if (chosen.frame !== null) goTo(chosen.frame);
    // Only when another one is chosen: later the playhead is free.
  }, [chosen?.id]); // eslint-disable-line react-hooks/exhaustive-deps
  const step = (by: number) => {
    const next = nextFinding(rows, id, by);
    if (next) chooseFinding(next.id);
  };
  const count = rows.reduce((sum, { findings }) => sum + findings.length, 0);
  return (
    <div
      style={{ display: "flex", flex: 1, minHeight: 0 }}
      onKeyDown={(event) => {
        if (event.target instanceof HTMLInputElement || (event.key !== "ArrowDown" && event.key !== "ArrowUp")) return;
        event.preventDefault();
        event.stopPropagation();
        step(event.key === "ArrowDown" ? 1 : -1);
      }}
    >
      <CheckList view={view} />
      <main aria-label="Findings over frames" style={{ flex: 1, minWidth: 0, display: "flex", flexDirection: "column", background: ink.ground }}>
        <div style={{ display: "flex", alignItems: "center", gap: 8, padding: "8px 14px", borderBottom: `1px solid ${ink.line}` }}>
          <Filters />
          <span style={{ color: ink.quiet }}>{said(count, rows.length)}{looking ? " · looking …" : ""}</span>
          <span style={{ flex: 1 }} />
          <Button size="small" disabled={!count} title="The finding before (arrow up)" aria-label="Finding before" onClick={() => { step(-1); }}>↑</Button>
          <Button size="small" disabled={!count} title="The next finding (arrow down)" aria-label="Next finding" onClick={() => { step(1); }}>↓</Button>
        </div>
        {count ? <Strips rows={rows} /> : <Nothing view={view} filtered={check !== null || mine || span !== null || hidden.length > 0} />}
        <Details view={view} id={chosen?.id ?? null} part="curve" />
      </main>
      <aside style={{ width: 316, flex: "none", display: "flex", flexDirection: "column", background: ink.panel, borderLeft: `1px solid ${ink.line}` }}>
        {chosen ? <Details view={view} id={chosen.id} part="panel" /> : <p style={{ padding: 14, color: ink.quiet }}>Choose a finding: its text, its curve over frames and its remedies show here.</p>}
      </aside>
    </div>
  );
}

/** The first finding is chosen where none is. */
function useStart(rows: ReturnType<typeof rowsOf>, chosen: boolean) {
  const first = rows[0]?.findings[0]?.id;
  useEffect(() => {
    if (!chosen && first !== undefined) chooseFinding(first);
  }, [chosen, first]);
}

/** The chosen finding with the remedy that is looked at: tried in all that is shown. */
function Details({ view, id, part }: { view: ChecksView; id: string | null; part: "curve" | "panel" }) {
  const { data: details, error: gone } = useFinding(id, view.revision);
  const offer = useLooking((looking) => looking.offer);
  const edits = (offer !== null ? details?.offers[offer]?.edits : undefined) ?? null;
  const { data: tried, error } = useTried(id, edits, view.revision);
  useEffect(() => {
    if (part !== "panel") return;
    feed.keepTrying("remedy", edits ?? []);
    return () => { feed.keepTrying("remedy", []); };
  }, [edits, part]);
  if (!details) return part === "panel" ? <p role="status" style={{ padding: 14, color: gone ? ink.trouble : ink.quiet }}>{gone ? reasonNow(gone) : "Its remedies are coming …"}</p> : null;
  if (part === "curve") return <AmountCurve details={details} tried={edits ? tried : undefined} />;
  const alike = view.findings.filter((one) => one.check === details.finding.check && one.id !== id && one.accepted === null);
  return <FindingPanel details={details} tried={edits ? tried : undefined} problem={error} alike={alike} />;
}

function said(findings: number, parts: number): string {
  if (!findings) return "no findings";
  return `${counted(findings, "finding")} on ${counted(parts, "part")}, worst first`;
}

function Nothing({ view, filtered }: { view: ChecksView; filtered: boolean }) {
  const on = view.checks.filter((check) => check.on).length;
  return (
    <p style={{ flex: 1, padding: "18px 24px", color: ink.quiet, maxWidth: 460 }}>
      {filtered ? "Nothing of this kind is found here." : `${String(on)} checks looked, and found nothing that nobody accepted. What each of them looks for stands on the left.`}
    </p>
  );
}
