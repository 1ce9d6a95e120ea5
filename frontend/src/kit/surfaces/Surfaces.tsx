import { Button } from "antd";

import type { SurfaceHead } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { choosePart } from "../../state/selection";
import { chooseSurface, useLooked } from "../../state/surfaces";
import { useEdit } from "../../state/useEdit";
import { TextField } from "../../shared/TextField";
import { ink } from "../../shared/theme";
import { MakeSurface } from "./MakeSurface";

/** Surfaces: cages on parts, and the steps that deform them. */
export function Surfaces() {
  const surfaces = useOpenScene((scene) => scene.header.surfaces);
  return (
    <div className="scroll" style={{ flex: 1, padding: "8px 10px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", alignContent: "start", gap: 8 }}>
      <MakeSurface />
      {surfaces.map((surface) => <SurfaceCard key={surface.id} surface={surface} />)}
      {!surfaces.length && <p style={{ margin: 0, color: ink.quiet }}>No surfaces yet. A surface is a cage of points on a part; steps deform it in an order: blend shapes, bend by joints, displace, subdivide, carry.</p>}
    </div>
  );
}

function SurfaceCard({ surface }: { surface: SurfaceHead }) {
  const edit = useEdit();
  const part = useOpenScene((scene) => scene.parts[surface.part]?.name ?? "");
  const chosen = useLooked((looked) => looked.surface === surface.id);
  return (
    <section aria-label={`Surface ${surface.name}`} style={{ border: `1px solid ${chosen ? ink.picked : ink.line}`, borderRadius: 6, background: ink.field, padding: "6px 8px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 4 }}>
      <div style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <input type="color" aria-label={`Colour of ${surface.name}`} title="Its colour" value={surface.colour} style={{ width: 22, height: 20, padding: 0, border: "none", background: "none" }} onChange={(event) => void edit({ do: "change surface", id: surface.id, colour: event.target.value })} />
        <TextField label={`Name of the surface ${surface.name}`} value={surface.name} width="100%" strong onCommit={(name) => edit({ do: "change surface", id: surface.id, name })} />
        <Button type="text" size="small" aria-label={`Delete the surface ${surface.name}`} title="Delete the surface with its channels" style={{ height: 18, paddingInline: 4 }} onClick={() => void edit({ do: "remove surface", id: surface.id })}>×</Button>
      </div>
      <span style={{ fontSize: 12 }}>
        on <button type="button" className="bare" style={{ textDecoration: "underline dotted" }} title="Choose the part: the steps’ numbers are its channels" onClick={() => { choosePart(surface.part); }}>{part}</button>, {surface.points} points, {surface.steps.length} steps
      </span>
      <Button size="small" style={{ justifySelf: "start" }} title="Its steps in their order, what each does, two orders compared" onClick={() => { chooseSurface(surface.id); }}>Steps and orders</Button>
    </section>
  );
}
