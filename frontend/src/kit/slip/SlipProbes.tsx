import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Checkbox, Input, Select, Space } from "antd";
import { useState } from "react";

import type { OneEdit, Probe, SlipView, StepView } from "../../api/client";
import { post, reason } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { useChosenPart, useOpenScene } from "../../state/openScene";
import { goTo } from "../../state/player";
import { feed, useSamples } from "../../state/samples";
import { byName } from "../../shared/byName";
import { brief, exact, shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { useAtMost } from "../../shared/useAtMost";
import { SlipCurve } from "./SlipCurve";

type Vector = [number, number, number];

/** A point that should stick to its ground, and how far it does not. */
export function ProbeForm({ id }: { id: string }) {
  const probe = useOpenScene((scene) => scene.header.probes.find((one) => one.id === id));
  return probe ? <ProbeCard probe={probe} /> : null;
}

/** The edit that changes something of a probe; what is not given stays. */
export function probeEdit({ id, name, part, point, rolling, ground }: Probe, what: object): OneEdit {
  return { do: "put probe", name, part, point: (point ?? [0, 0, 0]) as Vector, rolling: rolling ?? false, ground: ground ?? null, id, ...what };
}

/** Puts a probe on the chosen part. */
export function MakeProbe({ onMade }: { onMade: () => void }) {
  const edit = useEdit();
  const part = useChosenPart();
  const [name, setName] = useState("");
  const [rolling, setRolling] = useState(true);
  const add = () => {
    if (!part || !name.trim()) return;
    const radius = (part.shape.size?.[1] ?? 1) / 2;
    const point: Vector = [0, -radius, 0];
    void edit({ do: "put probe", name: name.trim(), part: part.id, point, rolling }).then((stored) => { if (stored) onMade(); });
  };
  return (
    <div style={{ display: "grid", gap: 5 }} onKeyDown={(event) => { event.stopPropagation(); }}>
      <Input size="small" aria-label="Name of the new probe" placeholder={part ? `name of a probe on ${part.name}` : "choose a part first"} disabled={!part} value={name} onChange={(event) => { setName(event.target.value); }} onPressEnter={add} />
      <Space size={6}>
        <Checkbox checked={rolling} title="The point of contact stays below the part's origin while it turns; without: the point belongs to the part" onChange={() => { setRolling(!rolling); }}>it rolls</Checkbox>
        <Button size="small" disabled={!part || !name.trim()} onClick={add}>Add probe</Button>
      </Space>
    </div>
  );
}

function ProbeCard({ probe }: { probe: Probe }) {
  const edit = useEdit();
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const point = (probe.point ?? [0, 0, 0]) as Vector;
  const change = (what: object) => probeEdit(probe, what);
  const slip = useSlip(probe.id, first, last);
  const moved = (n: number, value: number) => change({ point: point.map((old, m) => (m === n ? value : old)) });
  return (
    <section aria-label={`Slip probe ${probe.name}`} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: "6px 8px", display: "grid", gap: 5 }}>
      <span style={{ fontSize: 12 }}>on <strong>{parts[probe.part]?.name}</strong></span>
      {slip && <SlipCurve slip={slip} />}
      {slip && (
        <div style={{ fontSize: 12 }}>
          <span title="The whole slip over the range">sum <span className="mono">{shown(slip.sum, "m")}</span></span>
          {" · "}
          {slip.worst < 5e-7 ? "it does not slip" : (
            <button type="button" className="bare" title="Go to the worst frame" style={{ textDecoration: "underline dotted" }} onClick={() => { goTo(slip.worst_frame); }}>
              worst <span className="mono">{shown(slip.worst)}</span> m/frame at {slip.worst_frame}
            </button>
          )}
        </div>
      )}
      <Space size={3}>
        {(["x", "y", "z"] as const).map((axis, n) => (
          <NumberField key={axis} label={`${probe.name} ${axis}`} value={point[n] ?? 0} text={brief(point[n] ?? 0, "m", 4)} unit="m" width={64} onTry={(value) => { feed.tryOut([moved(n, value)]); }} onCommit={(value) => void edit(moved(n, value))} />
        ))}
      </Space>
      <Space size={4}>
        <Checkbox checked={probe.rolling ?? false} onChange={() => void edit(change({ rolling: !(probe.rolling ?? false) }))}>rolls</Checkbox>
        <span style={{ color: ink.quiet, fontSize: 12 }}>on</span>
        <Select size="small" aria-label={`Ground of ${probe.name}`} showSearch={byName} style={{ width: 118 }} value={probe.ground ?? ""} options={[{ value: "", label: "the world" }, ...order.filter((id) => id !== probe.part).map((id) => ({ value: id, label: parts[id]?.name ?? id }))]} onChange={(ground) => void edit(change({ ground: ground || null }))} />
      </Space>
      <Fit probe={probe} first={first} last={last} />
    </section>
  );
}

/** Finds the factor of least slip for a formula of the part, and brings it in. */
function Fit({ probe, first, last }: { probe: Probe; first: number; last: number }) {
  const edit = useEdit();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const part = useOpenScene((scene) => scene.parts[probe.part]);
  const formulas = part?.steps.filter(({ settings }) => settings.kind === "formula" && settings.channel.startsWith("rotation.")) ?? [];
  const [wanted, setWanted] = useState<string | null>(null);
  const [span, setSpan] = useState<[number, number]>([first, last]);
  const [fit, setFit] = useState<SlipView["fit"]>(null);
  const [problem, setProblem] = useState("");
  const step = formulas.find(({ id }) => id === wanted) ?? formulas[0];
  if (step?.settings.kind !== "formula") {
    if (!probe.rolling) return null;
    return <span style={{ color: ink.quiet, fontSize: 12 }}>Give {part?.name} a formula that turns it, then fit its factor here.</span>;
  }
  const settings = step.settings;
  const find = async () => {
    try {
      const found = await post<SlipView>(`/api/scenes/${String(sceneId)}/slip`, { probe: probe.id, first: span[0], last: span[1], step: step.id, trying: feed.allTried() });
      setFit(found.fit);
      setProblem("");
    } catch (error) {
      setFit(null);
      setProblem(reason(error));
    }
  };
  const edited = (text: string): OneEdit => ({ do: "change step", step: step.id, settings: { ...settings, kind: "formula" as const, text } });
  const take = (text: string) => {
    void edit(edited(text)).then((stored) => { if (stored) setFit(null); });
  };
  const preview = (text: string) => ({
    onMouseEnter: () => { feed.tryOut([edited(text)]); },
    onMouseLeave: () => { feed.tryOut([]); },
  });
  return (
    <div style={{ display: "grid", gap: 4, borderTop: `1px solid ${ink.line}`, paddingTop: 5 }}>
      <Space size={3}>
        <Button size="small" title="Finds the factor, and its sign, for which the point slips least over these frames" onClick={() => void find()}>Fit</Button>
        <Select size="small" aria-label="Formula to fit" popupMatchSelectWidth={false} style={{ width: 84 }} value={step.id} options={formulas.map(({ id, name }) => ({ value: id, label: name }))} onChange={setWanted} />
        <NumberField label="Fit from frame" value={span[0]} text={String(span[0])} step={1} width={42} onCommit={(value) => { setSpan([Math.round(value), span[1]]); }} />
        <NumberField label="Fit to frame" value={span[1]} text={String(span[1])} step={1} width={46} onCommit={(value) => { setSpan([span[0], Math.round(value)]); }} />
      </Space>
      {problem && <span role="alert" style={{ color: ink.trouble, fontSize: 12 }}>{problem}</span>}
      {fit && (
        <div role="status" style={{ fontSize: 12, display: "grid", gap: 4 }}>
          <span>factor <span className="mono">{shown(fit.factor, "", 6)}</span>: slip <span className="mono">{shown(fit.before)}</span> → <span className="mono">{shown(fit.after)}</span> m</span>
          {fit.reasons.map((text) => <span key={text} style={{ color: ink.doubtful }}>▲ {text}</span>)}
          <Button size="small" style={wrapped} title={fit.text} {...preview(fit.text)} onClick={() => { take(fit.text); }}>
            Use <span className="mono" style={{ fontSize: 11, wordBreak: "break-all" }}>{fit.text}</span>
          </Button>
          {fit.alike > 1 && fit.place !== null && fit.value !== null && <Alike step={step} place={fit.place} value={fit.value} count={fit.alike} onDone={() => { setFit(null); }} />}
          {fit.exact && (
            <Button size="small" style={wrapped} title="From the radius and the true distance" {...preview(fit.exact)} onClick={() => { take(fit.exact ?? ""); }}>
              Use <span className="mono" style={{ fontSize: 11, wordBreak: "break-all" }}>{fit.exact}</span>
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

const wrapped = { height: "auto", whiteSpace: "normal" } as const;

/** The fitted number in all formulas that are alike. */
function Alike({ step, place, value, count, onDone }: { step: StepView; place: number; value: number; count: number; onDone: () => void }) {
  const edit = useEdit();
  const made: OneEdit = { do: "change number", step: step.id, place, value, alike: true };
  return (
    <Button
      size="small"
      title="The same number in all formulas of that name that are the same but for numbers and what they read"
      onMouseEnter={() => { feed.tryOut([made]); }}
      onMouseLeave={() => { feed.tryOut([]); }}
      onClick={() => void edit(made).then((stored) => { if (stored) onDone(); })}
    >
      Use {exact(value)} in all {count} alike
    </Button>
  );
}

/** A probe's slip over the range, with all that is tried. */
export function useSlip(probe: string, first: number, last: number): SlipView | undefined {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  // New samples mean that something else is tried.
  useSamples((samples) => samples.blocks);
  const tried = useAtMost(JSON.stringify(feed.allTried()), 120);
  const { data } = useQuery({
    queryKey: ["slip", sceneId, probe, revision, first, last, tried],
    queryFn: () => post<SlipView>(`/api/scenes/${String(sceneId)}/slip`, { probe, first, last, trying: JSON.parse(tried) as OneEdit[] }),
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
  return data;
}
