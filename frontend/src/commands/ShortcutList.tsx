import { Button } from "antd";
import { useState } from "react";

import { Popup } from "../shared/Popup";
import { openGuide } from "../state/guide";
import { closePopup, openPopup } from "../state/popup";
import { ink } from "../shared/theme";
import { PaperChoice } from "./PaperChoice";
import { keysPressed } from "./keys";
import type { ShortcutName } from "./shortcuts";
import { changeKeys, isChanged, shortcuts, useKeys, usualKeys, useShortcuts } from "./shortcuts";

/** The list of all keys of the keyboard, behind `?`. */
export function ShortcutList() {
  useShortcuts({ list: () => { openPopup("shortcuts"); } });
  const keys = useKeys();
  const rows = (
    <div style={{ width: 666, maxWidth: "calc(100vw - 40px)", maxHeight: "calc(100vh - 110px)", overflow: "auto", padding: "0 3px" }}>
      <div style={{ display: "flex", justifyContent: "space-between", gap: 12 }}>
        <PaperChoice />
        <Button size="small" onClick={() => { closePopup("shortcuts"); openGuide(); }}>Guide</Button>
      </div>
      <dl style={{ columns: "2 300px", columnGap: 20, margin: "8px 0 0", fontSize: 12.5 }}>
        {(Object.keys(shortcuts) as ShortcutName[]).map((command) => <Shortcut key={command} command={command} />)}
      </dl>
      {isChanged(keys) && <Button size="small" style={{ marginTop: 8 }} onClick={usualKeys}>The usual keys for all</Button>}
    </div>
  );
  return (
    <Popup id="shortcuts" content={() => rows} title="Guide, paper, and keys of the keyboard" placement="bottomRight">
      <Button aria-label="Keys of the keyboard (?)" title="Guide, paper, and keys of the keyboard (?)">?</Button>
    </Popup>
  );
}

/** A command and its keys; after a click on these, what is pressed next. */
function Shortcut({ command }: { command: ShortcutName }) {
  const keys = useKeys();
  const [waits, setWaits] = useState(false);
  const [taken, setTaken] = useState<ShortcutName | null>(null);
  const { text } = shortcuts[command];
  const fixed = command === "none";
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (!waits || event.key === "Tab") return;
    event.preventDefault();
    event.stopPropagation();
    const pressed = event.key === "Escape" ? keys[command] : keysPressed(event);
    if (pressed === null) return;
    setTaken(changeKeys(command, pressed));
    setWaits(false);
  };
  return (
    <div style={{ display: "flex", gap: 10, breakInside: "avoid", padding: "2px 0" }}>
      <dt className="mono" style={{ flex: "0 0 130px", whiteSpace: "nowrap" }}>
        {fixed ? keys[command] : (
          <button type="button" className="bare" {...(waits ? { "data-takes-keys": true } : {})} aria-label={`${keys[command]}: ${text}`} title="Give it other keys: click, then press them; Esc leaves it" style={{ fontWeight: isChanged(keys, command) ? 600 : 400, textDecoration: "underline dotted" }} onClick={() => { setWaits(true); setTaken(null); }} onKeyDown={onKeyDown} onBlur={() => { setWaits(false); }}>
            {waits ? "press…" : keys[command]}
          </button>
        )}
      </dt>
      <dd style={{ margin: 0 }}>
        {text}
        {taken && <span role="alert" style={{ color: ink.trouble }}> – {keys[taken]} is “{shortcuts[taken].text}”; give that other keys first</span>}
      </dd>
    </div>
  );
}
