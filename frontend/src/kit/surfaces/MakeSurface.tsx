import { Button, Input, Select } from "antd";
import { useState } from "react";

import { useChosenPart, useOpenScene } from "../../state/openScene";
import { chooseSurface } from "../../state/surfaces";
import { useCommand } from "../../state/useEdit";
import { typed } from "../../shared/arithmetic";
import { freeName } from "../../shared/freeName";
import { ink } from "../../shared/theme";

const solids = ["tube", "box", "ball", "sheet"] as const;
type Solid = (typeof solids)[number];
const usual: Record<Solid, string> = { tube: "8 8 1", box: "4 2 2", ball: "3 3 3", sheet: "8 1 8" };

/** Makes a surface in the form of a simple solid on the chosen part, as large as its shape. */
export function MakeSurface({ onMade }: { onMade: () => void }) {
  const command = useCommand();
  const part = useChosenPart();
  const surfaces = useOpenScene((scene) => scene.header.surfaces);
  const taken = surfaces.map((one) => one.name);
  const [wish, setWish] = useState<{ name: string | null; solid: Solid; size: string | null; divisions: string | null }>({ name: null, solid: "tube", size: null, divisions: null });
  if (!part) return <p style={{ margin: 0, color: ink.quiet }}>Choose the part that carries the new surface.</p>;
  const usualSize = part.shape.kind === "none" || part.shape.kind === "axes" ? [1, 0.4, 0.4] : (part.shape.size ?? [1, 1, 1]);
  const size = wish.size ?? usualSize.join(" ");
  const divisions = wish.divisions ?? usual[wish.solid];
  const name = wish.name ?? freeName("skin", taken);
  const sizes = three(size);
  const faces = three(divisions);
  const good = sizes !== null && faces !== null && name.trim() !== "";
  const make = () => {
    if (!sizes || !faces) return;
    const before = new Set(useOpenScene.getState().header.surfaces.map((one) => one.id));
    const done = () => {
      onMade();
      const made = useOpenScene.getState().header.surfaces.find((one) => !before.has(one.id));
      if (made) chooseSurface(made.id);
    };
    void command(done, { do: "make surface", name, part: part.id, solid: wish.solid, size: sizes, middle: part.shape.offset ?? [0, 0, 0], divisions: faces, colour: part.shape.colour ?? "#C9A66B" });
  };
  const row = (label: string, title: string, control: React.ReactNode) => (
    <label style={{ display: "flex", gap: 6, alignItems: "center", fontSize: 12 }}><span style={{ flex: "none", width: 46, color: ink.quiet }} title={title}>{label}</span>{control}</label>
  );
  const text = (label: string, value: string, wrong: boolean, onChange: (to: string) => void) => (
    <Input size="small" className="mono" aria-label={label} aria-invalid={wrong} status={wrong ? "error" : ""} value={value} onChange={(event) => { onChange(event.target.value); }} />
  );
  return (
    <div style={{ display: "grid", gap: 5 }} onKeyDown={(event) => { event.stopPropagation(); }}>
      <span style={{ fontSize: 12 }}>New surface on <strong>{part.name}</strong></span>
      {row("name", "The numbers of its steps are channels of the part, under this name", <Input size="small" aria-label="Name of the new surface" value={name} onChange={(event) => { setWish({ ...wish, name: event.target.value }); }} />)}
      {row("solid", "A tube goes along x; a sheet lies in x and z", <Select size="small" aria-label="Solid of the new surface" style={{ flex: 1, minWidth: 0 }} value={wish.solid} options={solids.map((value) => ({ value, label: value }))} onChange={(solid) => { setWish({ ...wish, solid, divisions: null }); }} />)}
      {row("size", "Metres along x, y, z", text("Size of the new surface", size, sizes === null, (to) => { setWish({ ...wish, size: to }); }))}
      {row("faces", wish.solid === "tube" ? "Along x, and around; the third does not count" : "How many along x, y, z", text("Faces of the new surface", divisions, faces === null, (to) => { setWish({ ...wish, divisions: to }); }))}
      <Button size="small" type="primary" disabled={!good} title={good ? "Subdivided once, and carried by the part" : "Size and faces take three numbers each"} style={{ justifySelf: "start" }} onClick={make}>Make the surface</Button>
    </div>
  );
}

function three(text: string): [number, number, number] | null {
  const numbers = text.trim().split(/[\s,]+/).map((one) => typed(one, 0));
  const [x, y, z] = numbers;
  return numbers.length === 3 && x !== undefined && y !== undefined && z !== undefined ? [x, y, z] : null;
}
