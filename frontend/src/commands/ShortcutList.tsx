import { Button, Popover } from "antd";
import { useState } from "react";

import { shortcuts, useShortcuts } from "./shortcuts";

/** The list of all keys of the keyboard, behind `?`. */
export function ShortcutList() {
  const [open, setOpen] = useState(false);
  useShortcuts({ list: () => { setOpen(!open); } });
  const rows = (
    <table style={{ borderSpacing: "12px 4px" }}>
      <tbody>
        {Object.values(shortcuts).map(({ keys, text }) => (
          <tr key={keys}>
            <td className="mono" style={{ whiteSpace: "nowrap" }}>{keys}</td>
            <td>{text}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
  return (
    <Popover
      content={rows}
      title="Keys of the keyboard"
      trigger="click"
      placement="bottomRight"
      open={open}
      onOpenChange={setOpen}
    >
      <Button aria-label="Keys of the keyboard (?)" title="Keys of the keyboard (?)">?</Button>
    </Popover>
  );
}
