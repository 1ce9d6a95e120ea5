import { Button } from "antd";

import type { SurfaceHead } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { choosePart } from "../../state/selection";
import { chooseSurface, useLooked } from "../../state/surfaces";
import { useEdit } from "../../state/useEdit";
import { ColourField } from "../../shared/ColourField";
import { ink } from "../../shared/theme";

/** A cage on a part, and the steps that deform it. */
export function SurfaceForm({ id }: { id: string }) {
  const surface = useOpenScene((scene) => scene.header.surfaces.find((one) => one.id === id));
  return surface ? <SurfaceCard surface={surface} /> : null;
}

function SurfaceCard({ surface }: { surface: SurfaceHead }) {
  const edit = useEdit();
  const part = useOpenScene((scene) => scene.parts[surface.part]?.name ?? "");
  const chosen = useLooked((looked) => looked.surface === surface.id);
  return (
    <section aria-label={`Surface ${surface.name}`} style={{ border: `1px solid ${chosen ? ink.picked : ink.line}`, borderRadius: 6, background: ink.field, padding: "6px 8px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 4 }}>
      <span style={{ fontSize: 12, display: "flex", alignItems: "center", gap: 6, flexWrap: "wrap" }}>
        <ColourField label={`Colour of ${surface.name}`} value={surface.colour} style={{ width: 22, height: 20 }} onCommit={(colour) => edit({ do: "change surface", id: surface.id, colour })} />
        <span>on <button type="button" className="bare" style={{ textDecoration: "underline dotted" }} title="Choose the part: the steps’ numbers are its channels" onClick={() => { choosePart(surface.part); }}>{part}</button>, {surface.points} points, {surface.steps.length} steps</span>
      </span>
      <Button size="small" style={{ justifySelf: "start" }} title="Its steps in their order, what each does, two orders compared" onClick={() => { chooseSurface(surface.id); }}>Steps and orders</Button>
    </section>
  );
}
