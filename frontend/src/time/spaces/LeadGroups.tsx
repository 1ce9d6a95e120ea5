import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";

import { useEdit } from "../../state/useEdit";
import { toggleLeading, useLeading } from "../../state/leading";
import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { byName } from "../../shared/byName";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";

/** Groups in which any part can carry the others. */
export function LeadGroups() {
  return (
    <Popup placement="topRight" title="Lead groups" content={() => <Groups />}>
      <Button size="small" type="text" title="Groups of parts of which any one can carry the others; who leads is keyed">leads</Button>
    </Popup>
  );
}

function Groups() {
  const edit = useEdit();
  const groups = useOpenScene((scene) => scene.header.leads);
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const on = useLeading((state) => state.on);
  const options = order.map((id) => ({ value: id, label: parts[id]?.name ?? id }));
  return (
    <div style={{ display: "grid", gap: 9, width: 330 }}>
      {groups.map((group) => (
        <section key={group.id} aria-label={`Lead group ${group.name}`} style={{ display: "grid", gap: 5, borderBottom: `1px solid ${ink.line}`, paddingBottom: 7 }}>
          <span style={{ display: "flex", gap: 6 }}>
            <strong style={{ flex: 1 }}>{group.name}</strong>
            <span style={{ color: ink.quiet, fontSize: 12 }}>leads are channels of {parts[group.part]?.name}</span>
            <Button type="text" size="small" aria-label={`Delete the lead group ${group.name}`} style={{ paddingInline: 4, height: 20 }} onClick={() => void edit({ do: "remove lead group", id: group.id })}>×</Button>
          </span>
          <Select size="small" mode="multiple" aria-label={`Members of ${group.name}`} showSearch={byName} value={group.members ?? []} options={options} onChange={(members: string[]) => void edit({ do: "put lead group", id: group.id, name: group.name, part: group.part, members })} />
          <Checkbox checked={on.includes(group.id)} onChange={() => { toggleLeading(group.id); }}>whoever is moved in the view leads from that frame</Checkbox>
        </section>
      ))}
      <NewGroup />
    </div>
  );
}

/** A new group of the chosen parts. */
function NewGroup() {
  const edit = useEdit();
  const chosen = useSelection((selection) => selection.parts);
  const parts = useOpenScene((scene) => scene.parts);
  const [name, setName] = useState("");
  const home = chosen.at(-1);
  if (chosen.length < 2 || !home) return <span style={{ color: ink.quiet }}>Choose two parts or more (Ctrl-click) to make a group of them.</span>;
  const add = () => {
    void edit({ do: "put lead group", name: name.trim(), part: home, members: chosen }).then((stored) => { if (stored) setName(""); });
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
