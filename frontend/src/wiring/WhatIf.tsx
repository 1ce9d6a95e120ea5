import { Alert, Button, Input, InputNumber, Select, Space } from "antd";
import { useEffect, useState } from "react";

import type { OneEdit } from "../api/client";
import { reason } from "../api/client";
import type { WhatIfWish } from "../api/order";
import { useEdit } from "../shell/useEdit";
import { useChosenPart, useOpenScene } from "../state/openScene";
import { feed } from "../state/samples";
import { useSelection } from "../state/selection";
import type { Tap } from "../shared/taps";
import { ink } from "../theme";
import { View3D } from "../bench/view/View3D";
import { SmallCurves } from "./SmallCurves";
import { useWhatIf } from "./useWhatIf";

type Source = { kind: "saved"; id: string } | { kind: "step" } | { kind: "revision"; revision: number };

/** Two orders, two settings or two revisions side by side: curves, difference, worst frame, and
 * the second one's pose in the view. Keep one, or discard both. */
export function WhatIf() {
  const edit = useEdit();
  const saved = useOpenScene((scene) => scene.header.what_ifs);
  const revision = useOpenScene((scene) => scene.header.revision);
  const [source, setSource] = useState<Source>(() => (saved[0] ? { kind: "saved", id: saved[0].id } : { kind: "step" }));
  const [side, setSide] = useState<"one" | "other">("other");
  const change = useStepWish();
  const wish = wishOf(source, change);
  const { data, error } = useWhatIf(wish);
  const edits = side === "one" ? data?.one_edits : data?.other_edits;
  const posed = source.kind === "revision" ? [] : (edits ?? []);
  const key = JSON.stringify(posed);
  useEffect(() => {
    feed.keepTrying("what if", JSON.parse(key) as OneEdit[]);
    return () => { feed.keepTrying("what if", []); };
  }, [key]);
  const keep = (kept: OneEdit[] | undefined) => { if (kept?.length) void edit(...kept); };
  const names = source.kind === "revision" ? [`edit ${String(source.revision)}`, "now"] : source.kind === "saved" ? ["first", "second"] : ["now", "changed"];
  return (
    <div style={{ display: "grid", gap: 8, alignContent: "start" }} onKeyDown={(event) => { event.stopPropagation(); }}>
      <Select
        size="small"
        aria-label="What to compare"
        value={source.kind === "saved" ? source.id : source.kind}
        options={[
          ...saved.map(({ id, name }) => ({ value: id, label: name })),
          { value: "step", label: "the chosen step: muted, or in another zone" },
          { value: "revision", label: "an earlier revision and now" },
        ]}
        onChange={(value) => {
          setSource(value === "step" ? { kind: "step" } : value === "revision" ? { kind: "revision", revision: Math.max(revision - 1, 0) } : { kind: "saved", id: value });
        }}
      />
      {source.kind === "revision" && (
        <span>edit <InputNumber size="small" aria-label="Revision" min={0} max={revision} value={source.revision} onChange={(value) => { setSource({ kind: "revision", revision: value ?? 0 }); }} /> and now</span>
      )}
      {source.kind === "step" && <StepChoice change={change} />}
      {error && <Alert type="error" showIcon message={reason(error)} />}
      {data && (
        <>
          <span style={{ fontSize: 12, color: ink.quiet }}>dashed: {names[0]} · solid: {names[1]}{data.loops[0] !== data.loops[1] ? ` · loops: ${String(data.loops[0])} and ${String(data.loops[1])}` : ""}</span>
          <SmallCurves view={data} most={4} />
          <div style={{ height: 190, border: `1px solid ${ink.line}`, borderRadius: 8, overflow: "hidden" }}><View3D focus={[...new Set(data.differences.map((one) => one.part))]} /></div>
          <Space size={6} wrap>
            {source.kind !== "revision" && (
              <>
                <span style={{ fontSize: 12 }}>view shows</span>
                <Button size="small" type={side === "one" ? "primary" : "default"} onClick={() => { setSide("one"); }}>{names[0]}</Button>
                <Button size="small" type={side === "other" ? "primary" : "default"} onClick={() => { setSide("other"); }}>{names[1]}</Button>
              </>
            )}
          </Space>
          {source.kind !== "revision" && (
            <Space size={6} wrap>
              <Button size="small" disabled={!data.one_edits.length} onClick={() => { keep(data.one_edits); }}>Keep {names[0]}</Button>
              <Button size="small" disabled={!data.other_edits.length} onClick={() => { keep(data.other_edits); }}>Keep {names[1]}</Button>
            </Space>
          )}
          {source.kind === "step" && <Save change={change} />}
          {source.kind === "saved" && <Button size="small" type="text" style={{ justifySelf: "start" }} onClick={() => void edit({ do: "remove what if", id: source.id }).then((stored) => { if (stored) setSource({ kind: "step" }); })}>Discard this What if</Button>}
        </>
      )}
    </div>
  );
}

interface StepWish {
  step: string | null;
  name: string;
  zone: Tap;
  on: boolean;
  to: "muted" | Tap;
  setTo: (to: "muted" | Tap) => void;
  edits: OneEdit[];
}

/** The chosen step, muted or in another zone. */
function useStepWish(): StepWish {
  const part = useChosenPart();
  const chosen = useSelection((selection) => selection.step);
  const step = part?.steps.find(({ id }) => id === chosen) ?? part?.steps[0];
  const [to, setTo] = useState<"muted" | Tap>("muted");
  const edits: OneEdit[] = !step ? [] : to === "muted" ? [{ do: "change step", step: step.id, on: !step.on }] : [{ do: "move step", step: step.id, zone: to, position: 0 }];
  return { step: step?.id ?? null, name: step?.name ?? "", zone: step?.zone as Tap, on: step?.on ?? true, to, setTo, edits };
}

function wishOf(source: Source, change: StepWish): WhatIfWish | null {
  if (source.kind === "saved") return { one: { saved: source.id, side: "one" }, other: { saved: source.id, side: "other" } };
  if (source.kind === "revision") return { one: { revision: source.revision }, other: {} };
  return change.step ? { one: {}, other: { edits: change.edits } } : null;
}

function StepChoice({ change }: { change: StepWish }) {
  if (!change.step) return <p style={{ margin: 0, color: ink.quiet }}>Choose a step in the wiring or in the ledger first.</p>;
  const options = (["muted", "driven", "bound", "late", "final"] as const).filter((one) => one !== change.zone);
  return (
    <span>
      “{change.name}” now, and{" "}
      <Select size="small" aria-label="What is tried with the step" style={{ width: 104 }} value={change.to} options={options.map((value) => ({ value, label: value === "muted" ? (change.on ? "muted" : "unmuted") : `in ${value}` }))} onChange={change.setTo} />
    </span>
  );
}

/** Saves a comparison with the scene. */
function Save({ change }: { change: StepWish }) {
  const edit = useEdit();
  const [name, setName] = useState("");
  if (!change.step) return null;
  const step = change.step;
  const other = change.to === "muted" ? { step, on: !change.on } : { step, zone: change.to };
  const one = change.to === "muted" ? { step, on: change.on } : { step, zone: change.zone };
  return (
    <Space size={6}>
      <Input size="small" aria-label="Name of the What if" placeholder="name to save it" maxLength={80} value={name} onChange={(event) => { setName(event.target.value); }} />
      <Button size="small" disabled={!name.trim()} onClick={() => void edit({ do: "put what if", name: name.trim(), one: [one], other: [other] }).then((stored) => { if (stored) setName(""); })}>Save</Button>
    </Space>
  );
}
