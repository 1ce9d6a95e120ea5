import { Button, Checkbox, Select } from "antd";
import { memo, useState } from "react";

import { useEdit } from "../../state/useEdit";
import { useChosenPart, useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { useSelection } from "../../state/selection";
import { byName } from "../../shared/byName";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";
import type { BindingKind } from "./settings";
import { bindEdit, bindingHints, bindingKinds } from "./settings";

/** Binds the chosen part to others: those that are chosen with it, or any. */
export const AddBinding = memo(function AddBinding({ zone }: { zone: "bound" | "late" }) {
  return (
    <Popup label="Bind" placement="leftTop" content={(close) => <BindForm zone={zone} onDone={close} />}>
      <Button type="text" size="small" title="Bind this part to others: constraints, aim, path, spaces" style={{ fontSize: 11.5 }}>+ bind</Button>
    </Popup>
  );
});

/** Kind and targets of a new binding. */
function BindForm({ zone, onDone }: { zone: "bound" | "late"; onDone: () => void }) {
  const edit = useEdit();
  const part = useChosenPart();
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const chosen = useSelection((selection) => selection.parts);
  const frame = usePlayer((player) => player.frame);
  const [kind, setKind] = useState<BindingKind>("position");
  const [targets, setTargets] = useState(() => chosen.filter((id) => id !== part?.id));
  const [keep, setKeep] = useState(false);
  if (!part) return null;
  const kept = ["position", "rotation", "scale", "full", "aim"].includes(kind);
  const alone = kind === "follow" || kind === "plant";
  const enough = alone || targets.length >= (kind === "path" ? 2 : 1);
  const bind = () => {
    void edit(bindEdit(part, kind, targets, keep && kept ? frame : null, zone, frame)).then((stored) => { if (stored) onDone(); });
  };
  return (
    <div style={{ display: "grid", gap: 8, width: 268 }}>
      <span>Bind <strong>{part.name}</strong>{zone === "late" ? " late, after the solvers" : ""}</span>
      <Select<BindingKind>
        size="small"
        aria-label="Kind of binding"
        value={kind}
        options={bindingKinds.map((value) => ({ value, label: `${value} – ${bindingHints[value]}` }))}
        onChange={setKind}
      />
      {!alone && (
        <Select
          size="small"
          mode="multiple"
          aria-label="Targets"
          placeholder={kind === "path" ? "parts that the path passes through" : "bound to …"}
          showSearch={byName}
          value={targets}
          options={[{ value: "", label: "the world" }, ...order.filter((id) => id !== part.id).map((id) => ({ value: id, label: parts[id]?.name ?? id }))]}
          onChange={setTargets}
        />
      )}
      {kept && (
        <Checkbox checked={keep} onChange={() => { setKeep(!keep); }}>
          keep the offset: it stays where it is at {frame}
        </Checkbox>
      )}
      <span style={{ display: "flex", gap: 8, alignItems: "center" }}>
        <Button size="small" type="primary" disabled={!enough} onClick={bind}>Bind</Button>
        {!enough && <span style={{ color: ink.quiet, fontSize: 12 }}>{kind === "path" ? "choose two parts or more" : "choose what it is bound to"}</span>}
      </span>
    </div>
  );
}
