import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { App, Button, Checkbox, Input, Select, Space } from "antd";
import { useState } from "react";

import type { OneEdit, Probe, SlipView } from "../../api/client";
import { post } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { useChosenPart, useOpenScene } from "../../state/openScene";
import { goTo } from "../../state/player";
import { feed, useSamples } from "../../state/samples";
import { byName } from "../../shared/byName";
import { brief, shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { TextField } from "../../shared/TextField";
import { ink } from "../../shared/theme";
import { useAtMost } from "../../shared/useAtMost";
import { Fit } from "./Fit";
import { SlipCurve } from "./SlipCurve";
import type { FrameSpan } from "./spans";
import { saidSpans, spansOf } from "./spans";

type Vector = [number, number, number];

/** A point that should stick to its ground, and how far it does not. */
export function ProbeForm({ id }: { id: string }) {
  const probe = useOpenScene((scene) => scene.header.probes.find((one) => one.id === id));
  return probe ? <ProbeCard probe={probe} /> : null;
}

/** The edit that changes something of a probe; what is not given stays. */
export function probeEdit({ id, name, part, point, rolling, ground, stands }: Probe, what: object): OneEdit {
  return { do: "put probe", name, part, point: (point ?? [0, 0, 0]) as Vector, rolling: rolling ?? false, ground: ground ?? null, stands: (stands ?? []) as FrameSpan[], id, ...what };
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
    <section aria-label={`Slip probe ${probe.name}`} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: "6px 8px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 5 }}>
      <span style={{ fontSize: 12 }}>on <strong>{parts[probe.part]?.name}</strong></span>
      {slip && <SlipCurve slip={slip} />}
      {slip && (
        <div style={{ fontSize: 12 }}>
          <span title="The whole slip over the range">sum <span className="mono">{shown(slip.sum, "m")}</span></span>
          {" · "}
          {slip.worst < 5e-7 ? "it does not slip" : (
            <button type="button" className="bare" title="Go to the worst frame" style={{ textDecoration: "underline dotted" }} onClick={() => { goTo(slip.worst_frame); }}>
              worst <span className="mono">{shown(slip.worst, "m")}</span>/frame at {slip.worst_frame}
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
      {!probe.rolling && <Stands probe={probe} />}
      <Fit probe={probe} first={first} last={last} />
    </section>
  );
}

/** On which frames a point is said to stand, where it is not seen to: as on a stone. */
function Stands({ probe }: { probe: Probe }) {
  const edit = useEdit();
  const { message } = App.useApp();
  const put = async (text: string) => {
    const spans = spansOf(text);
    if (spans) return edit(probeEdit(probe, { stands: spans }));
    void message.warning(`${probe.name} stands on: write frames such as 10 … 20, 40 … 60`, 6);
    return false;
  };
  return (
    <label style={{ display: "flex", alignItems: "center", gap: 6, fontSize: 12, color: ink.quiet }} title="Frames on which the point stands, beside those where it is near its ground and slow; the check “slide” looks there too">
      <span className="line">stands on</span>
      <TextField mono label={`Frames on which ${probe.name} stands`} value={saidSpans(probe.stands ?? [])} placeholder="where it is seen to" width="100%" onCommit={put} />
    </label>
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
