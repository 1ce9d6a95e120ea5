import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";

import { useCommand } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { chooseParts, useSelection } from "../../state/selection";
import { ink } from "../../shared/theme";
import { chainOf, limbName } from "./chain";

type Vector = [number, number, number];
const ways: Record<string, Vector> = {
  "forward (+z)": [0, 0, 1],
  "back (−z)": [0, 0, -1],
  "to +x": [1, 0, 0],
  "to −x": [-1, 0, 0],
  "up (+y)": [0, 1, 0],
  "down (−y)": [0, -1, 0],
};

/** Makes a limb of the chosen parts, with goal, pole, spaces and a set. */
export function MakeLimb({ onMade }: { onMade: () => void }) {
  const command = useCommand();
  const parts = useOpenScene((scene) => scene.parts);
  const chosen = useSelection((selection) => selection.parts);
  const chain = chainOf(parts, chosen);
  const [typed, setTyped] = useState<string | null>(null);
  const [way, setWay] = useState("forward (+z)");
  const [home, setHome] = useState("");
  const [options, setOptions] = useState({ pole: true, spaces: true, follow: false, mirror: false });
  if (!chain) {
    return (
      <p style={{ margin: 0, color: ink.quiet }}>
        Choose hip, knee and ankle – or the two ends of a longer chain – with Ctrl-click, and make a limb of them.
      </p>
    );
  }
  const name = typed ?? limbName(parts, chain);
  const above = parts[chain[0] ?? ""]?.parent;
  const homes = [...new Set([...(above ? [above] : []), ...chain])];
  const part = homes.includes(home) ? home : (homes[0] ?? "");
  const names = chain.map((id) => parts[id]?.name ?? id).join(" › ");
  const make = () => {
    if (!name.trim()) return;
    const done = () => {
      onMade();
      const limb = useOpenScene.getState().header.limbs.find((one) => one.name === name);
      if (limb?.goal) chooseParts([limb.goal]);
    };
    void command(done, { do: "make limb", name, part, chain, frame: usePlayer.getState().frame, toward: ways[way] ?? null, ...options });
  };
  const box = (key: keyof typeof options, label: string, title: string, able = true) => (
    <Checkbox checked={options[key] && able} disabled={!able} title={title} onChange={(event) => { setOptions({ ...options, [key]: event.target.checked }); }}>{label}</Checkbox>
  );
  return (
    <div style={{ display: "grid", gap: 5 }} onKeyDown={(event) => { event.stopPropagation(); }}>
      <span style={{ fontSize: 12, overflowWrap: "anywhere" }}>New limb of {names}</span>
      <Input size="small" aria-label="Name of the new limb" value={name} onChange={(event) => { setTyped(event.target.value); }} onPressEnter={make} />
      <label style={{ display: "flex", gap: 6, alignItems: "center", fontSize: 12 }}>
        <span style={{ flex: "none", color: ink.quiet }} title="Blend, stretch, soft, turn and end follows are channels of this part">channels on</span>
        <Select size="small" aria-label="Part with the channels of the limb" style={{ flex: 1, minWidth: 0 }} popupMatchSelectWidth={false} value={part} options={homes.map((id) => ({ value: id, label: parts[id]?.name ?? id }))} onChange={setHome} />
      </label>
      <label style={{ display: "flex", gap: 6, alignItems: "center", fontSize: 12 }}>
        <span style={{ flex: "none", color: ink.quiet }} title="Where the middle of a chain that is straight goes; one that is bent says it itself">if straight, bends</span>
        <Select size="small" aria-label="Where a straight chain bends" style={{ flex: 1, minWidth: 0 }} value={way} options={Object.keys(ways).map((value) => ({ value, label: value }))} onChange={setWay} />
      </label>
      {box("pole", "pole", "A part that says to which side the middle points")}
      {box("spaces", above ? `goal and pole can go with ${parts[above]?.name ?? ""}` : "goal and pole in spaces", "A list of spaces: the world, or with what the chain hangs on", Boolean(above))}
      {box("follow", "how far the base turns with its parent", "A follow step on the base, with a share from 0 to 1", Boolean(above))}
      {box("mirror", "the other side as well", "The parts with left and right exchanged in their names")}
      <Button size="small" type="primary" disabled={!name.trim()} onClick={make} style={{ justifySelf: "start" }}>Make the limb</Button>
    </div>
  );
}
