import { Button } from "antd";

import { Popup } from "../shared/Popup";
import { openPopup } from "../state/popup";
import { shortcuts, useShortcuts } from "./shortcuts";

/** The list of all keys of the keyboard, behind `?`. */
export function ShortcutList() {
  useShortcuts({ list: () => { openPopup("shortcuts"); } });
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
    <Popup id="shortcuts" content={() => rows} title="Keys of the keyboard" placement="bottomRight">
      <Button aria-label="Keys of the keyboard (?)" title="Keys of the keyboard (?)">?</Button>
    </Popup>
  );
}
