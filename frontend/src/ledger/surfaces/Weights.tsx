import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";

import type { DeformHead, SurfaceHead, WeightsView } from "../../api/client";
import { get, reason } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { useCommand, useEdit } from "../../state/useEdit";
import { typed } from "../../shared/arithmetic";
import { ink } from "../../shared/theme";
import { pointsOf } from "./points";
import { Row } from "./Shapes";

/** The weights of a bend: made by distance, smoothed, set by numbers; those of the written points in a
 * table. */
export function Weights({ surface, step }: { surface: SurfaceHead; step: DeformHead }) {
  const edit = useEdit();
  const command = useCommand();
  const parts = useOpenScene((scene) => scene.parts);
  const chosen = useSelection((selection) => selection.parts);
  const [draft, setDraft] = useState({ points: "0-3", weight: "1" });
  const [joint, setJoint] = useState<string | null>(null);
  const at = { surface: surface.id, step: step.id };
  const name = (part: string) => parts[part]?.name ?? part;
  const others = chosen.filter((part) => part !== surface.part);
  const joints = others.length ? others : step.joints;
  const points = pointsOf(draft.points, surface.points);
  const weight = typed(draft.weight, 0);
  const held = step.joints.includes(joint ?? "") ? joint : (step.joints[0] ?? null);
  const good = points !== undefined && weight !== undefined && held !== null;
  const set = () => { if (good) void command(() => undefined, { do: "set weights", ...at, joint: held, points, weight }); };
  return (
    <div style={{ padding: "2px 12px", display: "grid", gap: 4 }} onKeyDown={(event) => { event.stopPropagation(); }}>
      <span style={{ fontSize: 12, overflowWrap: "anywhere" }}>{step.joints.length ? step.joints.map(name).join(", ") : <span style={{ color: ink.quiet }}>No joints yet: choose parts in the tree with Ctrl-click, then weigh by distance.</span>}</span>
      <div style={{ display: "flex", gap: 4 }}>
        <Button size="small" disabled={!joints.length} title={others.length ? `Weights by distance of ${others.map(name).join(", ")}` : "Weights of these joints by distance, made anew; choose other parts first to bend by those"} onClick={() => void edit({ do: "weigh by distance", ...at, joints })}>By distance</Button>
        <Button size="small" disabled={!step.joints.length} title="Mixes each point’s weights with those of its neighbours" onClick={() => void edit({ do: "smooth weights", ...at, rounds: 1 })}>Smooth</Button>
      </div>
      {step.joints.length > 0 && (
        <>
          <Row label="points" title={`Of the cage, 0 to ${String(surface.points - 1)}: 0-7, 12`}>
            <Input size="small" className="mono" aria-label="Points that are weighed" aria-invalid={points === undefined} status={points ? "" : "error"} style={{ width: 150 }} value={draft.points} onChange={(event) => { setDraft({ ...draft, points: event.target.value }); }} />
          </Row>
          <Row label="held by" title="The other joints share the rest as before">
            <Select size="small" aria-label="Joint that holds the points" style={{ width: 88 }} value={held} options={step.joints.map((value) => ({ value, label: name(value) }))} onChange={setJoint} />
            <Input size="small" className="mono" aria-label="Weight of the points" style={{ width: 44 }} value={draft.weight} onChange={(event) => { setDraft({ ...draft, weight: event.target.value }); }} onPressEnter={set} />
            <Button size="small" disabled={!good} onClick={set}>Set</Button>
          </Row>
          <Table surface={surface} step={step} points={(points ?? []).slice(0, 24)} name={name} />
        </>
      )}
    </div>
  );
}

function Table({ surface, step, points, name }: { surface: SurfaceHead; step: DeformHead; points: number[]; name: (part: string) => string }) {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const { data, error } = useQuery({
    queryKey: ["weights", sceneId, surface.id, step.id, revision],
    queryFn: () => get<WeightsView>(`/api/scenes/${String(sceneId)}/surfaces/${surface.id}/weights?step=${step.id}`),
    placeholderData: (before) => before,
    retry: false,
  });
  if (error) return <span style={{ color: ink.trouble }}>{reason(error)}</span>;
  if (!data) return null;
  const cell = { padding: "0 3px", textAlign: "right" } as const;
  return (
    <div style={{ overflowX: "auto" }}>
      <table className="mono" aria-label="Weights" style={{ fontSize: 11, borderCollapse: "collapse" }}>
        <thead><tr><th style={{ ...cell, color: ink.quiet }}>point</th>{data.joints.map((joint) => <th key={joint} style={{ ...cell, fontWeight: 400, color: ink.quiet }}>{name(joint)}</th>)}</tr></thead>
        <tbody>
          {points.map((point) => (
            <tr key={point}>
              <th style={{ ...cell, fontWeight: 400, color: ink.quiet }}>{point}</th>
              {data.weights[point]?.map((weight, n) => <td key={data.joints[n]} style={{ ...cell, color: weight ? ink.ink : ink.line }}>{weight.toFixed(2)}</td>)}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
