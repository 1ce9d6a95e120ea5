import { Button, Input } from "antd";
import { useState } from "react";

import { useOpenScene } from "../state/openScene";
import { useCommand } from "../state/useEdit";
import { useSelection } from "../state/selection";
import { ink } from "../shared/theme";
import { patternNames } from "./patternNames";

/** Names for all chosen parts by one pattern, seen before they are given. */
export function RenameMany({ onDone }: { onDone: () => void }) {
  const command = useCommand();
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const chosen = useSelection((selection) => selection.parts);
  const ids = order.filter((id) => chosen.includes(id));
  const [pattern, setPattern] = useState("part #");
  const names = patternNames(pattern, ids.map((id) => parts[id]?.name ?? ""));
  const changed = ids.flatMap((id, n) => (names[n] && names[n] !== parts[id]?.name ? [{ do: "rename part" as const, part: id, name: names[n] }] : []));
  const rename = () => {
    if (changed.length) void command(onDone, ...changed);
  };
  return (
    <div style={{ display: "grid", gap: 8, width: 300 }}>
      <Input size="small" aria-label="Pattern of the names" className="mono" value={pattern} onChange={(event) => { setPattern(event.target.value); }} onPressEnter={rename} />
      <span style={{ color: ink.quiet, fontSize: 12 }}># counts from 1, ## from 01; * stands for the name that it has; “left=right” changes one word</span>
      <ul className="scroll" aria-label="What they would be called" style={{ listStyle: "none", margin: 0, padding: 0, maxHeight: 220, fontSize: 12 }}>
        {ids.map((id, n) => (
          <li key={id}><span style={{ color: ink.quiet }}>{parts[id]?.name} →</span> {names[n]}</li>
        ))}
      </ul>
      <Button size="small" type="primary" disabled={!changed.length} onClick={rename} style={{ justifySelf: "start" }}>Rename {changed.length}</Button>
    </div>
  );
}
