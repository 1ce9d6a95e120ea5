import { Button, Checkbox, Segmented, Select } from "antd";

import type { Beside, CurveRef } from "../../state/curveSet";
import { toggleCurve, toggleSolo, useCurveSet } from "../../state/curveSet";
import { chooseChannel } from "../../state/selection";
import { Popup } from "../../shared/Popup";
import { ink } from "../../shared/theme";

const besides: Beside[] = ["nothing", "its group", "its part", "chosen parts", "key scope"];

/** Which curves stand beside the chosen one, on which scale; each can be hidden or chosen. */
export function CurvesMenu({ curves }: { curves: CurveRef[] }) {
  const { beside, scale, hidden, pinned, solo } = useCurveSet();
  const content = () => (
    <div style={{ display: "grid", gap: 8, width: 270 }}>
      <Select<Beside> size="small" aria-label="Curves beside the chosen one" value={beside} options={besides.map((value) => ({ value, label: value }))} onChange={(value) => { useCurveSet.setState({ beside: value }); }} />
      <Segmented<typeof scale> size="small" block aria-label="Scale of the curves" value={scale} options={["own scales", "one scale"]} onChange={(value) => { useCurveSet.setState({ scale: value }); }} />
      <ul className="scroll" aria-label="Curves beside" style={{ listStyle: "none", margin: 0, padding: 0, maxHeight: 200 }}>
        {curves.map(({ part, channel, key, name }) => (
          <li key={key} style={{ display: "flex", gap: 6, alignItems: "center" }}>
            <Checkbox aria-label={`Show ${name}`} checked={!hidden.includes(key)} onChange={() => { toggleCurve(key); }} />
            <button type="button" className="bare" title={`Choose ${name}`} onClick={() => { chooseChannel(part, channel); }} style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{name}</button>
            <Button size="small" type={solo === key ? "primary" : "text"} aria-pressed={solo === key} aria-label={`Only ${name}`} title="Draws this one alone beside the chosen one" onClick={() => { toggleSolo(key); }}>only</Button>
            <Button size="small" type={pinned.includes(key) ? "primary" : "text"} aria-pressed={pinned.includes(key)} aria-label={`Pin ${name}`} title="Stays beside whatever is chosen" onClick={() => { toggleCurve(key, "pinned"); }}>pin</Button>
          </li>
        ))}
        {!curves.length && <li style={{ color: ink.quiet }}>Nothing beside it.</li>}
      </ul>
      <span style={{ color: ink.quiet, fontSize: 11.5 }}>What does not move is left out of the drawing.</span>
    </div>
  );
  return (
    <Popup placement="topRight" title="Curves beside the chosen one" content={content}>
      <Button size="small" title="Shows more curves: of the group, the part, several parts, the key scope">beside: {beside}</Button>
    </Popup>
  );
}
