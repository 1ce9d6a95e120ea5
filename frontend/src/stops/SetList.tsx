import { PlusOutlined } from "@ant-design/icons";
import { Button, Input } from "antd";
import { useState } from "react";

import type { DrivenView } from "../api/client";
import { counted } from "../shared/format";
import { useEdit } from "../state/useEdit";
import { useChosenChannel, useChosenPart, useOpenScene } from "../state/openScene";
import { chooseDriven } from "../state/posing";
import { Chapter } from "../shared/Chapter";
import { ink } from "../shared/theme";
import { Popup } from "../shared/Popup";

/** All sets of driven keys; + adds one. */
export function SetList({ sets, chosen }: { sets: DrivenView[]; chosen: string | null }) {
  return (
    <>
      <div style={{ display: "flex", alignItems: "center", padding: "8px 8px 4px 12px" }}>
        <span style={{ flex: 1 }}><Chapter name="Driven-key sets" of="Driven keys: the Stops view" /></span>
        <Popup placement="rightTop" title="New driven keys" content={(close) => <NewSet onDone={close} />}>
          <Button type="text" size="small" aria-label="Add driven keys" title="Add a set of driven keys" icon={<PlusOutlined />} />
        </Popup>
      </div>
      <div className="scroll" role="listbox" aria-label="Driven-key sets" style={{ maxHeight: 190, marginBottom: 8 }}>
        {sets.map(({ id, name, rows }) => (
          <button
            key={id}
            type="button"
            role="option"
            aria-selected={id === chosen}
            onClick={() => { chooseDriven(id); }}
            style={{ all: "unset", boxSizing: "border-box", width: "100%", display: "flex", padding: "4px 12px", cursor: "pointer", background: id === chosen ? ink.chosen : undefined }}
          >
            <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{name}</span>
            <span className="mono" style={{ color: ink.quiet, fontSize: 12 }}>{counted(rows.length, "row")}</span>
          </button>
        ))}
      </div>
    </>
  );
}

function NewSet({ onDone }: { onDone: () => void }) {
  const edit = useEdit();
  const part = useChosenPart();
  const channel = useChosenChannel();
  const [name, setName] = useState("");
  const [driver, setDriver] = useState(part && channel ? `{${part.name}.${channel.name}}` : "");
  const low = channel?.low ?? Math.min(0, (channel?.high ?? 1) - 1);
  const high = channel?.high ?? Math.max(1, low + 1);
  const add = async () => {
    if (!name.trim()) return;
    const stops = [low, high];
    if (!(await edit({ do: "add driven keys", name: name.trim(), driver: driver.trim() || "0", low, high, stops }))) return;
    chooseDriven(useOpenScene.getState().header.driven.find((set) => set.name === name.trim())?.id ?? null);
    onDone();
  };
  return (
    <div style={{ display: "grid", gap: 6, width: 260 }}>
      <Input size="small" aria-label="Name of the set" placeholder="name" value={name} onChange={(event) => { setName(event.target.value); }} onPressEnter={() => void add()} />
      <Input size="small" className="mono" aria-label="Driver of the new set" placeholder="{part.channel}" value={driver} onChange={(event) => { setDriver(event.target.value); }} onPressEnter={() => void add()} />
      <span style={{ color: ink.quiet, fontSize: 12 }}>
        A channel in braces, or any formula. Stops at {low} and {high}; more are added later.
      </span>
      <Button size="small" type="primary" disabled={!name.trim()} onClick={() => void add()}>Add</Button>
    </div>
  );
}
