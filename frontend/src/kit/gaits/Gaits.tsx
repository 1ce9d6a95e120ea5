import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button } from "antd";

import type { Gait, GaitView } from "../../api/client";
import { get } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { choosePart } from "../../state/selection";
import { useEdit } from "../../state/useEdit";
import { feed } from "../../state/samples";
import { NumberField } from "../../shared/NumberField";
import { duration, shown } from "../../shared/format";
import { ink } from "../../shared/theme";
import { footEdit } from "./edits";

/** Feet that walk by rule along a root's path. */
export function GaitForm({ id }: { id: string }) {
  const gait = useOpenScene((scene) => scene.header.gaits.find((one) => one.id === id));
  return gait ? <GaitCard gait={gait} /> : null;
}

function GaitCard({ gait }: { gait: Gait }) {
  const edit = useEdit();
  const parts = useOpenScene((scene) => scene.parts);
  const name = (id: string) => parts[id]?.name ?? id;
  const feet = gait.feet ?? [];
  return (
    <section aria-label={`Gait ${gait.name}`} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: "6px 8px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 4 }}>
      <span style={{ fontSize: 12 }}>
        along <button type="button" className="bare" style={{ textDecoration: "underline dotted" }} title="Choose the root: the gait’s numbers are its channels" onClick={() => { choosePart(gait.part); }}>{name(gait.part)}</button>
        {gait.ground ? ` on ${name(gait.ground)}` : ""}
      </span>
      <div style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <Cost gait={gait} />
        <Button size="small" title="Keys on every frame for the feet and for all that the formulas move; the gait is muted, and nothing moves by it" onClick={() => void edit({ do: "write out gait", id: gait.id })}>write out</Button>
      </div>
      {feet.map((foot, n) => (
        <span key={foot.part} style={{ display: "flex", gap: 6, alignItems: "center", fontSize: 12 }}>
          <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }} title={name(foot.part)}>{name(foot.part)}</span>
          <span style={{ color: ink.quiet }}>lands at</span>
          <NumberField label={`Phase of ${name(foot.part)}`} value={foot.phase ?? 0} text={shown(foot.phase ?? 0, "", 3)} step={0.05} width={56} onTry={(value) => { feed.tryOut([footEdit(gait, n, value)]); }} onCancel={() => { feed.tryOut([]); }} onCommit={(value) => void edit(footEdit(gait, n, value))} />
        </span>
      ))}
    </section>
  );
}

/** How long the gait takes: what is muted costs nothing. */
function Cost({ gait }: { gait: Gait }) {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const { data } = useQuery({
    queryKey: ["gait", sceneId, gait.id, revision],
    queryFn: () => get<GaitView>(`/api/scenes/${String(sceneId)}/gait?gait=${gait.id}`),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const cost = data ? data.steps + data.formulas : 0;
  const title = data ? `prints and feet ${duration(data.steps)}, formulas ${duration(data.formulas)}, for all frames` : "";
  return <span className="mono" aria-label={`Cost of ${gait.name}`} title={title} style={{ flex: 1, fontSize: 11, color: ink.quiet }}>{data ? (cost ? `costs ${duration(cost)}` : "muted: costs nothing") : ""}</span>;
}
