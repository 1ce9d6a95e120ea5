import { Button, Input, Select } from "antd";
import { useState } from "react";

import type { DeformHead, SurfaceHead } from "../../api/client";
import { useCommand, useEdit } from "../../state/useEdit";
import { typed } from "../../shared/arithmetic";
import { ink } from "../../shared/theme";
import { pointsOf } from "./points";

const blank = { points: "", offset: "0 0 0", swell: "0" };

/** The blend shapes of a step: which points each moves, by numbers. */
export function Shapes({ surface, step }: { surface: SurfaceHead; step: DeformHead }) {
  const edit = useEdit();
  const command = useCommand();
  const [draft, setDraft] = useState(blank);
  const [shape, setShape] = useState("new");
  const at = { surface: surface.id, step: step.id };
  const known = step.shapes.some(([id]) => id === shape) ? shape : "new";
  const points = pointsOf(draft.points, surface.points);
  const offset = draft.offset.trim().split(/[\s,]+/).map((one) => typed(one, 0));
  const swell = typed(draft.swell, 0);
  const good = points !== undefined && swell !== undefined && offset.length === 3 && offset.every((one) => one !== undefined);
  const put = () => {
    if (!good) return;
    const [x = 0, y = 0, z = 0] = offset;
    void command(() => { setDraft(blank); }, { do: "put shape", ...at, points, offset: [x, y, z], swell, ...(known === "new" ? {} : { id: known }) });
  };
  const field = (key: keyof typeof draft, label: string, wrong: boolean, width: number) => (
    <Input size="small" className="mono" aria-label={label} aria-invalid={wrong} status={wrong && draft.points ? "error" : ""} style={{ width }} value={draft[key]} onChange={(event) => { setDraft({ ...draft, [key]: event.target.value }); }} onPressEnter={put} />
  );
  return (
    <div style={{ padding: "2px 12px", display: "grid", gap: 4 }} onKeyDown={(event) => { event.stopPropagation(); }}>
      {step.shapes.map(([id, name, count]) => (
        <div key={id} style={{ display: "flex", gap: 4, fontSize: 12 }}>
          <span style={{ flex: 1 }}>{name}</span>
          <span style={{ color: ink.quiet }}>{count} points</span>
          <Button type="text" size="small" style={{ height: 18, width: 20 }} aria-label={`Delete the shape ${name}`} onClick={() => void edit({ do: "remove shape", ...at, id })}>×</Button>
        </div>
      ))}
      <Row label="points" title={`Of the cage, 0 to ${String(surface.points - 1)}: 0-7, 12`}>{field("points", "Points of the shape", points === undefined, 150)}</Row>
      <Row label="offset" title="Metres along x, y, z of the part; it replaces what the shape said of these points">{field("offset", "Offset of the shape", !good && points !== undefined && (offset.length !== 3 || offset.some((one) => one === undefined)), 150)}</Row>
      <Row label="swell" title="Metres along the cage’s normals, on top of the offset">{field("swell", "Swell of the shape", swell === undefined, 66)}</Row>
      <Row label="shape" title="Which shape gets these offsets">
        <Select size="small" aria-label="Shape that gets the offsets" style={{ width: 96 }} value={known} options={[{ value: "new", label: "a new one" }, ...step.shapes.map(([value, label]) => ({ value, label }))]} onChange={setShape} />
        <Button size="small" disabled={!good} title={good ? "Sets the offset of these points" : "Write points such as 0-7, 12, three metres, and a swell"} onClick={put}>Set</Button>
      </Row>
    </div>
  );
}

/** A named line of a small form. */
export function Row({ label, title, children }: { label: string; title: string; children: React.ReactNode }) {
  return (
    <div style={{ display: "flex", alignItems: "center", gap: 4, fontSize: 12 }}>
      <span style={{ flex: 1, color: ink.quiet }} title={title}>{label}</span>
      {children}
    </div>
  );
}
