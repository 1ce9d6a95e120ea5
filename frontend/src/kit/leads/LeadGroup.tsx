import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";

import type { LeadGroup, OneEdit } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { toggleLeading, useLeading } from "../../state/leading";
import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { byName } from "../../shared/byName";
import { ink } from "../../shared/theme";

/** The edit that changes something of a lead group; what is not given stays. */
export function groupEdit({ id, name, part, members }: LeadGroup, what: object): OneEdit {
  return { do: "put lead group", id, name, part, members: members ?? [], ...what };
}

/** A group of parts of which any one can carry the others. */
export function LeadGroupForm({ id }: { id: string }) {
  const group = useOpenScene((scene) => scene.header.leads.find((one) => one.id === id));
  return group ? <LeadGroupCard group={group} /> : null;
}

function LeadGroupCard({ group }: { group: LeadGroup }) {
  const edit = useEdit();
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const on = useLeading((state) => state.on);
  const options = order.map((id) => ({ value: id, label: parts[id]?.name ?? id }));
  return (
    <section aria-label={`Lead group ${group.name}`} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: "6px 8px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 5 }}>
      <span style={{ color: ink.quiet, fontSize: 12 }}>leads are channels of {parts[group.part]?.name}</span>
      <Select size="small" mode="multiple" aria-label={`Members of ${group.name}`} showSearch={byName} value={group.members ?? []} options={options} onChange={(members: string[]) => void edit(groupEdit(group, { members }))} />
      <Checkbox checked={on.includes(group.id)} onChange={() => { toggleLeading(group.id); }}>whoever is moved in the view leads from that frame</Checkbox>
    </section>
  );
}

/** A new group of the chosen parts. */
export function MakeLeadGroup({ onMade }: { onMade: () => void }) {
  const edit = useEdit();
  const chosen = useSelection((selection) => selection.parts);
  const parts = useOpenScene((scene) => scene.parts);
  const [name, setName] = useState("");
  const home = chosen.at(-1);
  if (chosen.length < 2 || !home) return <span style={{ color: ink.quiet }}>Choose two parts or more (Ctrl-click) to make a group of them.</span>;
  const add = () => {
    if (!name.trim()) return;
    void edit({ do: "put lead group", name: name.trim(), part: home, members: chosen }).then((stored) => { if (stored) onMade(); });
  };
  return (
    <span style={{ display: "grid", gap: 5 }}>
      <span style={{ fontSize: 12 }}>New group: {chosen.map((id) => parts[id]?.name ?? id).join(", ")}</span>
      <span style={{ display: "flex", gap: 6 }}>
        <Input size="small" aria-label="Name of the new lead group" placeholder="name" value={name} onChange={(event) => { setName(event.target.value); }} onPressEnter={add} />
        <Button size="small" type="primary" disabled={!name.trim()} onClick={add}>Make</Button>
      </span>
    </span>
  );
}
