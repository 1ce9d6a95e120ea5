import { Button, Input, Select, Space } from "antd";
import { useRef, useState } from "react";

import type { BeadView, OneEdit, StepView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { openPopup } from "../../state/popup";
import { feed, useSamples, valueAt } from "../../state/samples";
import { byName } from "../../shared/byName";
import { shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { tapInk } from "../../shared/tapColours";
import { ink } from "../../shared/theme";
import { useEscape } from "../../shared/useEscape";
import { Popup } from "../../shared/Popup";
import { dragStep, tokensOf } from "./tokens";

interface Props {
  step: StepView;
  text: string;
  reads: BeadView["reads"];
  onEdit: () => void;
}

/** A formula to be read: numbers can be dragged in place, references show their value. */
export function FormulaText({ step, text, reads, onEdit }: Props) {
  return (
    <span className="mono" style={{ fontSize: 11.5, overflowWrap: "anywhere", lineHeight: 1.65 }}>
      {tokensOf(text).map(({ kind, text: word, start, place }) =>
        kind === "number" && place !== undefined ? (
          <Factor key={start} step={step} place={place} value={Number(word)} word={word} />
        ) : kind === "reference" ? (
          <Chip key={start} word={word} reads={reads} onEdit={onEdit} />
        ) : (
          <span key={start} onClick={onEdit} style={{ cursor: "text", color: kind === "name" ? tapInk.driven : ink.quiet }}>{word}</span>
        ),
      )}
    </span>
  );
}

/** A number of the formula: drag to change it, click for more. */
function Factor({ step, place, value, word }: { step: StepView; place: number; value: number; word: string }) {
  const edit = useEdit();
  const [now, setNow] = useState<number | null>(null);
  const drag = useRef<{ x: number; value: number; moved: boolean } | null>(null);
  const pressed = useRef<number | null>(null);
  const escape = useEscape();
  const giveUp = () => {
    escape.stop();
    drag.current = null;
    setNow(null);
    feed.tryOut([]);
  };
  const many = step.alike > 1;
  const change = (next: number, alike = false): OneEdit => ({ do: "change number", step: step.id, place, value: next, alike });
  /** The keyboard goes on from where it is, though what it did before is still under way. */
  const goBy = (far: number) => {
    const next = Number(((pressed.current ?? value) + far).toPrecision(8));
    pressed.current = next;
    setNow(next);
    void edit(change(next)).then(() => {
      if (pressed.current !== next) return;
      pressed.current = null;
      setNow(null);
    });
  };
  const popup = `number ${step.id} ${String(place)}`;
  const label = `number ${String(place + 1)} of ${step.name}`;
  return (
    <Popup byHand id={popup} title={`Number in “${step.name}”`} content={(close) => <FactorMenu step={step} place={place} value={value} onDone={close} />}>
      <span
        role="spinbutton"
        tabIndex={0}
        aria-label={label}
        aria-valuenow={now ?? value}
        title={`Drag to change it (Shift: ten times as far, Alt: a tenth${many ? `; Ctrl: in all ${String(step.alike)} alike` : ""}); click to type it or lift it out`}
        style={{ cursor: "ew-resize", color: ink.ink, fontWeight: 600, borderBottom: `1px dotted ${ink.quiet}`, touchAction: "none", userSelect: "none" }}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, value, moved: false };
          escape.watch(giveUp);
        }}
        onPointerMove={(event) => {
          const held = drag.current;
          if (!held || (!held.moved && Math.abs(event.clientX - held.x) < 3)) return;
          held.moved = true;
          const size = dragStep(value) * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
          held.value = Number((value + (event.clientX - held.x) * size).toPrecision(8));
          setNow(held.value);
          feed.tryOut([change(held.value, event.ctrlKey)]);
        }}
        onPointerUp={(event) => {
          const held = drag.current;
          if (!held) return;
          escape.stop();
          drag.current = null;
          if (!held.moved) {
            openPopup(popup);
            return;
          }
          if (held.value === value) {
            giveUp();
            return;
          }
          void edit(change(held.value, event.ctrlKey)).then(() => { if (!drag.current) setNow(null); });
        }}
        onPointerCancel={giveUp}
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
  const number = (alike: boolean) => (next: number) => { send({ do: "change number", step: step.id, place, value: next, alike }); };
  return (
    <div style={{ display: "grid", gap: 8 }} onClick={(event) => { event.stopPropagation(); }}>
      <Space>
        value
        <NumberField label="Value of the number" value={value} text={String(value)} step={dragStep(value)} width={96} onTry={(next) => { feed.tryOut([{ do: "change number", step: step.id, place, value: next, alike: false }]); }} onCommit={number(false)} />
      </Space>
      {step.alike > 1 && (
        <Space>
          in all {step.alike} alike
          <NumberField label="Value in all alike" value={value} text={String(value)} step={dragStep(value)} width={96} onTry={(next) => { feed.tryOut([{ do: "change number", step: step.id, place, value: next, alike: true }]); }} onCommit={number(true)} />
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

/** A reference with its value at the playhead. */
function Chip({ word, reads, onEdit }: { word: string; reads: BeadView["reads"]; onEdit: () => void }) {
  const [path = "", tap = "final"] = word.slice(1, -1).split("@");
  const read = reads.find((one) => one.label === path.trim() && one.tap === tap.trim());
  const block = useSamples((samples) => (read ? samples.blocks[read.node] : undefined));
  const first = useSamples((samples) => samples.first);
  const value = usePlayer(({ frame }) => valueAt(block, frame, first));
  return (
    <span onClick={onEdit} title={read ? `${path} at ${tap}` : path} style={{ cursor: "text", background: ink.hover, borderRadius: 4, padding: "1px 4px", color: ink.ink }}>
      {word.slice(1, -1)}
      {value !== undefined && block?.width === 1 && <span style={{ color: tapInk[tap.trim() as keyof typeof tapInk] }}> {shown(value)}</span>}
    </span>
  );
}
