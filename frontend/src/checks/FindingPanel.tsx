import { App, Button, Input, Space, Spin } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";

import type { OneEdit } from "../api/client";
import { reason } from "../api/client";
import type { FindingDetails, FindingView, OfferView, TriedView } from "../state/checks";
import { findingDetails, useLooking } from "../state/checks";
import { useOpenScene } from "../state/openScene";
import { chooseChannel } from "../state/selection";
import { useCommand, useEdit } from "../state/useEdit";
import { Popup } from "../shared/Popup";
import { ink } from "../shared/theme";
import { View3D } from "../view/View3D";
import { Mark } from "./marks";
import { Ways, WayWords } from "./Ways";

interface Props {
  details: FindingDetails;
  tried: TriedView | undefined;
  problem: Error | null;
  /** Other findings of the same check that nobody accepted. */
  alike: FindingView[];
}

/** The chosen finding: what is wrong, the view at its worst frame, its remedies. */
export function FindingPanel({ details, tried, problem, alike }: Props) {
  const { finding, ways, offers } = details;
  const name = useOpenScene((scene) => scene.parts[finding.part]?.name ?? "");
  const offer = useLooking((looking) => looking.offer);
  return (
    <section aria-label="Chosen finding" className="scroll" style={{ flex: 1, padding: "10px 12px", display: "flex", flexDirection: "column", gap: 10 }}>
      <div className="caps" style={{ display: "flex", gap: 8 }}><span><Mark severity={finding.severity} /> {finding.check}</span><span style={{ flex: 1, textAlign: "right", overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{name}{saidSpan(finding)}</span></div>
      <div style={{ background: ink.field, border: `1px solid ${ink.line}`, borderRadius: 6, padding: "8px 10px", overflowWrap: "anywhere" }}>{finding.text}</div>
      <div style={{ height: 210, flex: "none", border: `1px solid ${ink.line}`, borderRadius: 6, overflow: "hidden" }}>
        <View3D focus={[finding.part]}><Ways ways={ways} /></View3D>
      </div>
      {ways.length > 0 && <WayWords ways={ways} />}
      {offers.map((one, n) => <OfferCard key={n} number={n} offer={one} tried={offer === n ? tried : undefined} problem={offer === n ? problem : null} alike={alike} />)}
      {!offers.length && <span style={{ color: ink.quiet }}>No remedy by itself: go to its ledger.</span>}
      <Space size={6} wrap>
        {finding.accepted === null ? <Accept finding={finding} /> : <span style={{ color: ink.quiet }}>accepted</span>}
        <Ledger finding={finding} />
      </Space>
    </section>
  );
}

function saidSpan({ spans }: FindingView): string {
  const [first, last] = [spans[0], spans.at(-1)];
  if (!first || !last) return "";
  return first[0] === last[1] ? ` · ${String(first[0])}` : ` · ${String(first[0])} … ${String(last[1])}`;
}

function OfferCard({ number, offer, tried, problem, alike }: { number: number; offer: OfferView; tried: TriedView | undefined; problem: Error | null; alike: FindingView[] }) {
  const command = useCommand();
  const chosen = useLooking((looking) => looking.offer === number);
  const done = () => { useLooking.setState({ offer: null }); };
  return (
    <article aria-label={`Remedy ${String(number + 1)}`} style={{ background: ink.field, border: `${chosen ? "2px" : "1px"} solid ${chosen ? ink.ink : ink.line}`, borderRadius: 6, padding: "7px 10px", display: "grid", gap: 3 }}>
      <div style={{ display: "flex", gap: 8, alignItems: "baseline" }}>
        <button type="button" className="bare" aria-pressed={chosen} title="See it before it is applied" onClick={() => { useLooking.setState({ offer: chosen ? null : number }); }} style={{ flex: 1, textAlign: "left", fontWeight: 600, overflowWrap: "anywhere" }}>
          {number + 1} · {offer.text}
        </button>
        <Button size="small" onClick={() => void command(done, ...offer.edits)}>Apply</Button>
      </div>
      {offer.cost && <span style={{ fontSize: 12, color: ink.quiet, overflowWrap: "anywhere" }}>{offer.cost}</span>}
      {chosen && problem && <span style={{ fontSize: 12, color: ink.trouble }}>{reason(problem)}</span>}
      {chosen && !problem && (tried ? <Outcome tried={tried} /> : <Spin size="small" />)}
      {chosen && alike.length > 0 && <ToAll offer={offer} number={number} alike={alike} onDone={done} />}
    </article>
  );
}

/** What would become of the finding, and of the rest of the scene. */
function Outcome({ tried }: { tried: TriedView }) {
  const [one] = tried.moved;
  const many = tried.moved.length;
  return (
    <div role="status" style={{ fontSize: 12 }}>
      <div style={{ color: tried.left ? ink.trouble : ink.well }}>{tried.left ? `Left: ${tried.left}` : "It is found no more."}</div>
      {tried.gone > 1 && <div>{tried.gone} findings go in all.</div>}
      {tried.new.map((text) => <div key={text} style={{ color: ink.trouble }}>New: {text}</div>)}
      <div style={{ color: ink.quiet }}>{many === 0 ? "Nothing moves otherwise." : many === 1 ? `${one ?? ""} moves otherwise.` : `${one ?? ""} and ${String(many - 1)} more parts move otherwise.`}</div>
    </div>
  );
}

/** The same kind of remedy for all findings of the check that have it, as one edit. */
function ToAll({ offer, number, alike, onDone }: { offer: OfferView; number: number; alike: FindingView[]; onDone: () => void }) {
  const command = useCommand();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const { message } = App.useApp();
  const [busy, setBusy] = useState(false);
  const apply = async () => {
    setBusy(true);
    let all: FindingDetails[];
    try {
      all = await Promise.all(alike.map(({ id }) => findingDetails(sceneId, id)));
    } catch (error) {
      void message.error(`Nothing was changed: ${reason(error)}`, 6);
      setBusy(false);
      return;
    }
    const others = all.flatMap(({ offers }) => offers.find(({ kind }) => kind === offer.kind)?.edits ?? []);
    const edits: OneEdit[] = [];
    const known = new Set<string>();
    for (const edit of [...offer.edits, ...others]) {
      const text = JSON.stringify(edit);
      if (!known.has(text)) edits.push(edit);
      known.add(text);
    }
    await command(onDone, ...edits);
    setBusy(false);
  };
  return <Button size="small" loading={busy} style={{ justifySelf: "start" }} onClick={() => void apply()}>Apply {number + 1} to all {alike.length + 1}</Button>;
}

function Accept({ finding }: { finding: FindingView }) {
  const edit = useEdit();
  const [why, setWhy] = useState("");
  const span = finding.spans[0] ? [finding.spans[0][0], finding.spans.at(-1)?.[1] ?? finding.spans[0][1]] : null;
  const accept = (close: () => void) => {
    if (!why.trim()) return;
    const { check, part, what, cause, amount } = finding;
    void edit({ do: "accept finding", check, part, what, cause, reason: why, amount, span } as OneEdit).then((stored) => { if (stored) close(); });
  };
  return (
    <Popup placement="topLeft" title="Leave it as it is" content={(close) => (
      <Space.Compact>
        <Input size="small" aria-label="Reason" placeholder="why" style={{ width: 200 }} value={why} onChange={(event) => { setWhy(event.target.value); }} onPressEnter={() => { accept(close); }} />
        <Button size="small" type="primary" disabled={!why.trim()} title={why.trim() ? undefined : "Say why first"} onClick={() => { accept(close); }}>Accept</Button>
      </Space.Compact>
    )}>
      <Button size="small" title="It comes back when it grows by a quarter">Accept…</Button>
    </Popup>
  );
}

function Ledger({ finding }: { finding: FindingView }) {
  const navigate = useNavigate();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const go = () => {
    chooseChannel(finding.part, finding.channel);
    void navigate(`/scenes/${String(sceneId)}/bench${window.location.search}`);
  };
  return <Button size="small" title="Its channel on the Bench" onClick={go}>Ledger</Button>;
}
