import { Button, Select } from "antd";
import { useState } from "react";

import type { DeformHead, SurfaceHead } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { leaveSurface, useLooked } from "../../state/surfaces";
import { useSurfaceCosts } from "../../state/surfaceCosts";
import { useEdit } from "../../state/useEdit";
import { moved } from "../../shared/moved";
import { Chapter } from "../../shared/Chapter";
import { ink } from "../../shared/theme";
import { DeformRow } from "./DeformRow";
import { Orders } from "./Orders";
import { PointAccount } from "./PointAccount";

const kinds: Record<DeformHead["kind"], string> = {
  "blend shapes": "adds shapes, each as far as its weight says",
  "bend by joints": "points go along with joints",
  displace: "waves or noise along the normal",
  subdivide: "every face in four, rounded",
  carry: "the part’s own motion",
};

/** The account of a surface: its steps in their order, what each did to a point, two orders compared. */
export function SurfaceAccount({ surface }: { surface: SurfaceHead }) {
  const part = useOpenScene((scene) => scene.parts[surface.part]?.name ?? "");
  const costs = useSurfaceCosts((state) => state.costs[surface.id]);
  const problem = useSurfaceCosts((state) => state.problems[surface.id]);
  const total = Object.values(costs ?? {}).reduce((sum, one) => sum + one, 0);
  return (
    <>
      <div style={{ display: "flex", alignItems: "baseline", padding: "10px 12px 2px", gap: 8 }}>
        <span style={{ flex: 1 }}><Chapter name="Surface" of="Surfaces" /></span>
        <span style={{ fontSize: 11.5, fontWeight: 600, color: ink.quiet }}>{surface.name} on {part}</span>
        <Button type="text" size="small" aria-label="Close the surface’s account" title="Back to the ledger of the chosen channel" style={{ height: 18, paddingInline: 5 }} onClick={leaveSurface}>×</Button>
      </div>
      <div style={{ padding: "0 12px 6px", fontSize: 11.5, color: ink.quiet }}>
        {surface.points} points, {surface.faces} faces{costs ? ` · ${total.toFixed(1)} ms a frame` : ""}
      </div>
      {problem && <p role="alert" style={{ margin: "0 12px 6px", color: ink.trouble }}>{problem}</p>}
      <div className="scroll" style={{ flex: 1, padding: "0 10px 16px 8px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", alignContent: "start", gap: 10 }}>
        <Steps surface={surface} costs={costs ?? {}} />
        <Orders key={surface.steps.map((step) => `${step.id}${String(step.on)}`).join(" ")} surface={surface} />
        <PointAccount surface={surface} />
      </div>
    </>
  );
}

function Steps({ surface, costs }: { surface: SurfaceHead; costs: Record<string, number> }) {
  const edit = useEdit();
  const open = useLooked((looked) => looked.step);
  const [dragged, setDragged] = useState<string | null>(null);
  const order = surface.steps.map((step) => step.id);
  const put = (step: string, to: number) => {
    const next = moved(order, order.indexOf(step), to);
    if (next.join() !== order.join()) void edit({ do: "order deforms", surface: surface.id, order: next });
  };
  return (
    <section aria-label="Steps of the surface" style={{ position: "relative" }}>
      <span aria-hidden style={{ position: "absolute", left: 15, top: 10, bottom: 30, width: 2, background: ink.rail }} />
      <div style={{ display: "flex", alignItems: "center", gap: 8, height: 24, paddingLeft: 10 }}>
        <span aria-hidden style={{ width: 12, height: 12, borderRadius: 6, border: `2px solid ${ink.key}`, background: ink.panel, zIndex: 1 }} />
        <span style={{ color: ink.quiet }}>cage</span>
      </div>
      {surface.steps.map((step, n) => (
        <DeformRow
          key={step.id}
          surface={surface}
          step={step}
          open={open === step.id}
          cost={costs[step.id]}
          dragged={dragged}
          onDrag={setDragged}
          onDrop={() => { if (dragged) put(dragged, n); setDragged(null); }}
          onUp={n > 0 ? () => { put(step.id, n - 1); } : undefined}
          onDown={n < order.length - 1 ? () => { put(step.id, n + 1); } : undefined}
        />
      ))}
      <Adding surface={surface} />
    </section>
  );
}

function Adding({ surface }: { surface: SurfaceHead }) {
  const edit = useEdit();
  const chosen = useSelection((selection) => selection.parts);
  const carried = surface.steps.some((step) => step.kind === "carry");
  const add = (kind: DeformHead["kind"]) => {
    const joints = kind === "bend by joints" ? chosen.filter((part) => part !== surface.part) : [];
    void edit({ do: "add deform", surface: surface.id, kind, joints });
  };
  return (
    <Select
      size="small"
      aria-label="Add a step to the surface"
      placeholder="+ step"
      style={{ width: 200, marginLeft: 28, marginTop: 4 }}
      value={null}
      options={Object.entries(kinds).filter(([kind]) => kind !== "carry" || !carried).map(([value, title]) => ({ value, label: value, title }))}
      onChange={(kind: DeformHead["kind"] | null) => { if (kind) add(kind); }}
    />
  );
}
