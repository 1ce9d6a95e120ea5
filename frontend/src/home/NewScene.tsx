import { Button, Input, Select, Space } from "antd";
import { useState } from "react";

const empty = "empty";

/** A name, what the scene begins with, and the scene under it. */
export function NewScene({ starts, busy, onAdd }: { starts: string[]; busy: boolean; onAdd: (name: string, start: string | null) => void }) {
  const [name, setName] = useState("");
  const [start, setStart] = useState(empty);
  const add = () => { if (name.trim() && !busy) onAdd(name, start === empty ? null : start); };
  return (
    <Space.Compact>
      <Input aria-label="Name of a new scene" placeholder="Name of a new scene" value={name} style={{ width: 170 }} onChange={(event) => { setName(event.target.value); }} onPressEnter={add} />
      <Select aria-label="What it begins with" title="It begins empty, or with a small rig whose steps can be undone one by one" style={{ width: 162 }} value={start} options={[empty, ...starts].map((value) => ({ value, label: value }))} onChange={setStart} />
      <Button type="primary" disabled={!name.trim()} loading={busy} onClick={add}>New scene</Button>
    </Space.Compact>
  );
}
