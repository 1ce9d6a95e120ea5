import { Button, Input } from "antd";
import { useState } from "react";

import type { KeyPick } from "../../state/selection";
import { counted } from "../../shared/format";
import { chooseKeys, useSelection } from "../../state/selection";
import { useOpenScene } from "../../state/openScene";
import { useCommand } from "../../state/useEdit";
import { ink } from "../../shared/theme";
import { chosenPicks } from "./keyCommands";
import { tintsOf } from "./tints";

/** None of them vermilion, which means now. */
const colours = { rose: "#A8506F", amber: "#C77B1E", olive: "#7A8B2A", green: "#2E7F6E", blue: "#2B5EA8", violet: "#7B4FA0" };

/** Tints of keys: a word and a colour by which they are found again. */
export function Tints({ onDone }: { onDone: () => void }) {
  const command = useCommand();
  const parts = useOpenScene((scene) => scene.parts);
  const some = useSelection(({ keys }) => keys.length > 0);
  const tints = tintsOf(parts);
  const [word, setWord] = useState("");
  const [colour, setColour] = useState(colours.rose);
  const known = tints.find((tint) => tint.word === word.trim());
  const tint = (word: string, colour: string) => void command(onDone, { do: "tint keys", picks: chosenPicks(), tint: { word, colour } });
  const choose = (picks: KeyPick[]) => {
    chooseKeys(picks);
    onDone();
  };
  return (
    <div style={{ display: "grid", gap: 8, width: 300 }}>
      <div style={{ display: "flex", gap: 6, alignItems: "center" }}>
        <Input size="small" aria-label="word of the tint" placeholder="a word, such as breakdown" maxLength={40} value={word} onChange={(event) => { setWord(event.target.value); }} onPressEnter={() => { if (word.trim()) tint(word.trim(), known?.colour ?? colour); }} />
        <Button size="small" disabled={!word.trim()} title={word.trim() ? "Tints the keys named above" : "Write a word first"} onClick={() => { tint(word.trim(), known?.colour ?? colour); }}>Tint</Button>
      </div>
      <div role="radiogroup" aria-label="colour of the tint" style={{ display: "flex", gap: 6 }}>
        {Object.entries(colours).map(([name, one]) => (
          <button key={one} type="button" role="radio" aria-checked={(known?.colour ?? colour) === one} aria-label={name} title={known ? `“${known.word}” has its colour` : name} disabled={known !== undefined} onClick={() => { setColour(one); }} className="bare" style={{ width: 22, height: 22, borderRadius: 4, background: one, outline: (known?.colour ?? colour) === one ? `2px solid ${ink.ink}` : "none", outlineOffset: 2 }} />
        ))}
        <span style={{ flex: 1 }} />
        <Button size="small" title="The keys named above lose their tint" onClick={() => void command(onDone, { do: "tint keys", picks: chosenPicks(), tint: null })}>No tint</Button>
      </div>
      {tints.length > 0 && (
        <div role="list" aria-label="Tints" className="scroll" style={{ maxHeight: 160, borderTop: `1px solid ${ink.line}`, paddingTop: 6, display: "grid", gap: 2 }}>
          {tints.map((one) => (
            <div key={one.word} role="listitem" style={{ display: "flex", gap: 6, alignItems: "center" }}>
              <span style={{ width: 10, height: 10, borderRadius: 3, background: one.colour }} />
              <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{one.word}</span>
              <span className="mono" style={{ color: ink.quiet, fontSize: 12 }}>{counted(one.count, "key")}</span>
              <Button size="small" title="Chooses all keys with this tint, of all parts" onClick={() => { choose(one.picks); }}>Choose</Button>
              {some && <Button size="small" title="Tints the chosen keys so" onClick={() => { tint(one.word, one.colour); }}>Tint</Button>}
            </div>
          ))}
        </div>
      )}
      {!tints.length && <span style={{ color: ink.quiet, fontSize: 12 }}>No key is tinted yet. Tints go along with their keys, and play no part in the motion.</span>}
    </div>
  );
}
