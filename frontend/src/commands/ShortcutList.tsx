import { Button } from "antd";

import { Popup } from "../shared/Popup";
import { openGuide } from "../state/guide";
import { closePopup, openPopup } from "../state/popup";
import { PaperChoice } from "./PaperChoice";
import { shortcuts, useShortcuts } from "./shortcuts";

/** The list of all keys of the keyboard, behind `?`. */
export function ShortcutList() {
  useShortcuts({ list: () => { openPopup("shortcuts"); } });
  const rows = (
    <div style={{ width: 660, maxWidth: "calc(100vw - 40px)", maxHeight: "calc(100vh - 110px)", overflow: "auto" }}>
      <div style={{ display: "flex", justifyContent: "space-between", gap: 12 }}>
        <PaperChoice />
        <Button size="small" onClick={() => { closePopup("shortcuts"); openGuide(); }}>Guide</Button>
      </div>
      <dl style={{ columns: "2 300px", columnGap: 20, margin: "8px 0 0", fontSize: 12.5 }}>
        {Object.values(shortcuts).map(({ keys, text }) => (
          <div key={keys} style={{ display: "flex", gap: 10, breakInside: "avoid", padding: "2px 0" }}>
            <dt className="mono" style={{ flex: "0 0 118px", whiteSpace: "nowrap" }}>{keys}</dt>
            <dd style={{ margin: 0 }}>{text}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
  return (
    <Popup id="shortcuts" content={() => rows} title="Guide, paper, and keys of the keyboard" placement="bottomRight">
      <Button aria-label="Keys of the keyboard (?)" title="Guide, paper, and keys of the keyboard (?)">?</Button>
    </Popup>
  );
}
