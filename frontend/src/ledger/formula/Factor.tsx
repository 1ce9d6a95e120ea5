import { Button, Input, Select, Space } from "antd";
import { useState } from "react";

import type { OneEdit, StepView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { openPopup } from "../../state/popup";
import { feed } from "../../state/samples";
import { byName } from "../../shared/byName";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";
import { dragStep } from "./tokens";
import { changeNumber, useNumberDrag } from "./useNumberDrag";

/** A number of the formula: drag to change it, click for more. */
export function Factor({ step, place, value, word }: { step: StepView; place: number; value: number; word: string }) {
  const popup = `number ${step.id} ${String(place)}`;
  const { now, drag, goBy } = useNumberDrag({ step, place, value }, () => { openPopup(popup); });
  const all = step.alike > 1 ? `; Ctrl: in all ${String(step.alike)} alike` : "";
  return (
    <Popup byHand id={popup} title={`Number in “${step.name}”`} content={(close) => <FactorMenu step={step} place={place} value={value} onDone={close} />}>
      <span
        role="spinbutton"
        tabIndex={0}
        aria-label={`number ${String(place + 1)} of ${step.name}`}
        aria-valuenow={now ?? value}
        title={`Drag to change it (Shift: ten times as far, Alt: a tenth${all}); click to type it or lift it out`}
        style={{ cursor: "ew-resize", color: ink.ink, fontWeight: 600, borderBottom: `1px dotted ${ink.quiet}`, touchAction: "none", userSelect: "none" }}
        {...drag}
        onClick={(event) => { event.stopPropagation(); }}
        onKeyDown={(event) => {
          const way = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
          if (event.key === "Enter") openPopup(popup);
          if (!way) return;
          event.preventDefault();
          event.stopPropagation();
          goBy(way * dragStep(value) * (event.shiftKey ? 100 : 10));
        }}
      >
        {now ?? word}
      </span>
    </Popup>
  );
}

/** Types a number, here or in all that are alike, or lifts it out into an own channel. */
function FactorMenu({ step, place, value, onDone }: { step: StepView; place: number; value: number; onDone: () => void }) {
  const edit = useEdit();
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const owner = order.find((id) => parts[id]?.steps.some((one) => one.id === step.id)) ?? null;
  const [part, setPart] = useState(owner);
  const [name, setName] = useState("");
  const send = (made: OneEdit) => void edit(made).then((stored) => { if (stored) onDone(); });
  const number = (alike: boolean) => (next: number) => { send(changeNumber(step, place, next, alike)); };
  return (
    <div style={{ display: "grid", gap: 8 }} onClick={(event) => { event.stopPropagation(); }}>
      <Space>
        value
        <NumberField label="Value of the number" value={value} text={String(value)} step={dragStep(value)} width={96} onTry={(next) => { feed.tryOut([changeNumber(step, place, next, false)]); }} onCommit={number(false)} />
      </Space>
      {step.alike > 1 && (
        <Space>
          in all {step.alike} alike
          <NumberField label="Value in all alike" value={value} text={String(value)} step={dragStep(value)} width={96} onTry={(next) => { feed.tryOut([changeNumber(step, place, next, true)]); }} onCommit={number(true)} />
        </Space>
      )}
      <Space.Compact>
        <Input size="small" aria-label="Name of the channel" placeholder="name of a channel" style={{ width: 130 }} value={name} onChange={(event) => { setName(event.target.value); }} />
        <Select size="small" aria-label="Part of the channel" showSearch={byName} style={{ width: 110 }} value={part} options={order.map((id) => ({ value: id, label: parts[id]?.name ?? id }))} onChange={setPart} />
        <Button size="small" disabled={!name.trim() || !part} title="The number becomes an own channel, which the formula reads; nothing moves" onClick={() => { if (part) send({ do: "lift number", step: step.id, place, part, name: name.trim() }); }}>
          Lift out
        </Button>
        {step.alike > 1 && (
          <Button size="small" disabled={!name.trim() || !part} title={`Also in the formulas that are alike and have ${String(value)} there`} onClick={() => { if (part) send({ do: "lift number", step: step.id, place, part, name: name.trim(), alike: true }); }}>
            of all {step.alike}
          </Button>
        )}
      </Space.Compact>
    </div>
  );
}
