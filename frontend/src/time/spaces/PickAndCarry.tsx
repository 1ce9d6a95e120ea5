import { Button } from "antd";
import { useState } from "react";

import { useCommand } from "../../state/useEdit";
import { useChosenPart, useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { useSelection } from "../../state/selection";
import { Amount, Apply } from "../../shared/Amount";
import { isNumber, typed } from "../../shared/arithmetic";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";
import { PartSelect } from "../../ledger/binding/fields";

/** One part joins another from a frame on, and leaves it on a later one. */
export function PickAndCarry() {
  return (
    <Popup placement="topRight" title="Pick and carry" content={(close) => <Form onDone={close} />}>
      <Button size="small" type="text" title="The chosen part joins another one from here, and leaves it there, without a jump">pick and carry</Button>
    </Popup>
  );
}

function Form({ onDone }: { onDone: () => void }) {
  const command = useCommand();
  const part = useChosenPart();
  const other = useSelection(({ parts, part: last }) => parts.find((id) => id !== last));
  const last = useOpenScene((scene) => scene.header.last);
  const [by, setBy] = useState(other ?? "");
  const [from, setFrom] = useState(() => String(usePlayer.getState().frame));
  const [to, setTo] = useState("");
  const [then, setThen] = useState("(back)");
  if (!part) return <span style={{ color: ink.quiet }}>Choose the part that is to be carried first.</span>;
  const good = isNumber(from) && (!to.trim() || isNumber(to));
  const carry = () => {
    if (!good) return;
    const first = Math.round(typed(from, 0) ?? 0);
    const end = to.trim() ? Math.round(typed(to, last) ?? last) : null;
    const space = then === "(back)" ? null : then === "(parent)" ? "" : then === "(world)" ? "0" : then;
    void command(onDone, { do: "pick and carry", part: part.id, by, first, last: end, then: space });
  };
  const field = (label: string, value: string, set: (text: string) => void, hint: string) => (
    <Amount label={label} placeholder={hint} width={74} value={value} good={isNumber(value) || (hint === "never" && !value.trim())} onChange={set} onEnter={carry} />
  );
  return (
    <div style={{ display: "grid", gap: 7, width: 300 }}>
      <span><strong>{part.name}</strong> joins <PartSelect label="What carries it" value={by} none={by ? [] : [{ value: "", label: "choose …" }]} without={part.id} width={130} onChange={setBy} /></span>
      <span>from {field("Joins at frame", from, setFrom, "frame")} and leaves at {field("Leaves at frame", to, setTo, "never")}</span>
      <span>then moves in <PartSelect label="Moves then in" value={then} none={[{ value: "(back)", label: "what it came from" }, { value: "(parent)", label: "its parent" }, { value: "(world)", label: "the world" }]} without={part.id} width={150} onChange={setThen} /></span>
      <Apply type="primary" good={good} disabled={!by} onClick={carry} style={{ justifySelf: "start" }}>Carry</Apply>
    </div>
  );
}
