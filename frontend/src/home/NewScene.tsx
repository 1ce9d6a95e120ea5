import { Button, Input, Space } from "antd";
import { useState } from "react";

/** A name, and the scene that begins under it. */
export function NewScene({ busy, onAdd }: { busy: boolean; onAdd: (name: string) => void }) {
  const [name, setName] = useState("");
  return (
    <Space.Compact>
      <Input
        aria-label="Name of a new scene"
        placeholder="Name of a new scene"
        value={name}
       
        onChange={(event) => {
          setName(event.target.value);
        }}
        onPressEnter={() => {
          if (name.trim()) onAdd(name);
        }}
      />
      <Button
        type="primary"
        disabled={!name.trim()}
        loading={busy}
        onClick={() => {
          onAdd(name);
        }}
      >
        New scene
      </Button>
    </Space.Compact>
  );
}
