import { Button, Space } from "antd";
import { useState } from "react";

import { Confirm } from "../shared/Confirm";
import { ink } from "../shared/theme";
import { useBin } from "./useScenes";

/** Deleted scenes: they come back as they were, history included, until they go for good. */
export function Bin() {
  const { scenes, back, forGood } = useBin();
  const [open, setOpen] = useState(false);
  if (!scenes.length) return null;
  return (
    <details aria-label="Bin" style={{ marginTop: 18 }} onToggle={(event) => { setOpen(event.currentTarget.open); }}>
      <summary style={{ cursor: "pointer", color: ink.quiet }}>Bin ({scenes.length})</summary>
      <ul aria-label="Scenes in the bin" style={{ listStyle: "none", margin: "8px 0 0", padding: 0 }}>
        {open && scenes.map((entry) => (
          <li key={entry.id} style={{ display: "flex", alignItems: "center", gap: 12, padding: "6px 16px", borderTop: `1px solid ${ink.line}` }}>
            <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{entry.name}</span>
            <span className="mono" style={{ color: ink.quiet }}>{entry.parts} parts, {entry.revision} edits</span>
            <Space>
              <Button size="small" aria-label={`Bring ${entry.name} back`} onClick={() => { back(entry.id); }}>Bring back</Button>
              <Confirm title={`Delete “${entry.name}” for good?`} text="The scene and its history cannot be brought back then." yes="Delete for good" placement="leftTop" onYes={() => { forGood(entry.id); }}>
                <Button size="small" aria-label={`Delete ${entry.name} for good`}>Delete for good</Button>
              </Confirm>
            </Space>
          </li>
        ))}
      </ul>
    </details>
  );
}
