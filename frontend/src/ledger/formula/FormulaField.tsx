import { Button, Input, Select, Space } from "antd";
import { useState } from "react";

import type { BeadView, Problem, StepView } from "../../api/client";
import { beginEditing, useEditing } from "../../state/editing";
import { ink } from "../../shared/theme";
import { CopyMenu } from "./CopyMenu";
import type { Completion } from "./completions";
import { FormulaText } from "./FormulaText";
import type { Settings } from "./useEditor";
import { useEditor } from "./useEditor";

interface Props {
  step: StepView;
  settings: Settings;
  reads: BeadView["reads"];
}

/** A formula, and the editor to change it. A wrong one is refused here; the old one stays. */
export function FormulaField({ step, settings, reads }: Props) {
  const [begun, setEditing] = useState(false);
  const made = useEditing((state) => state.step === step.id);
  const done = () => {
    setEditing(false);
    if (made) beginEditing(null);
  };
  if (begun || made) return <Editor step={step} settings={settings} onDone={done} />;
  const sign = { set: "", add: "+ ", scale: "× " }[settings.mode ?? "set"];
  return (
    <div>
      <span className="mono" style={{ fontSize: 11.5, color: ink.quiet }}>{sign}</span>
      <FormulaText step={step} text={settings.text} reads={reads} onEdit={() => { setEditing(true); }} />
      <Space size={4} style={{ display: "flex", marginTop: 2 }}>
        <Button type="text" size="small" aria-label={`edit: formula of ${step.name}`} title="Change the formula" style={small} onClick={() => { setEditing(true); }}>edit</Button>
        <CopyMenu step={step} />
        {step.alike > 1 && <span style={{ fontSize: 11.5, color: ink.quiet }}>{step.alike} alike</span>}
      </Space>
    </div>
  );
}

const small = { height: 18, fontSize: 11.5, paddingInline: 4 } as const;

/** The text with completion, checked and shown as it is typed. */
function Editor({ step, settings, onDone }: { step: StepView; settings: Settings; onDone: () => void }) {
  const { area, draft, mode, setMode, problem, completion, edited, send, drop, type, take, onKeyDown } = useEditor(step, settings, onDone);
  return (
    <div style={{ margin: "4px 0" }}>
      <Input.TextArea
        ref={area}
        className="mono"
        aria-label={`Formula of ${step.name}`}
        autoFocus
        autoSize={{ minRows: 2, maxRows: 8 }}
        status={problem ? "error" : ""}
        value={draft}
        spellCheck={false}
        style={{ fontSize: 11.5 }}
        onChange={(event) => { type(event.target.value, event.target.selectionStart); }}
        onKeyDown={onKeyDown}
      />
      {completion.offers.length > 0 && <Offers {...completion} take={take} />}
      {problem && <Trouble problem={problem} text={draft} />}
      <Space size={6} wrap style={{ marginTop: 4 }}>
        <Select size="small" aria-label="How it writes" style={{ width: 68 }} value={mode} options={["set", "add", "scale"].map((value) => ({ value, label: value }))} onChange={(value: "set" | "add" | "scale") => { setMode(value); }} />
        <Button size="small" type="primary" onClick={() => void send(edited(draft))}>Apply</Button>
        {step.alike > 1 && (
          <Button size="small" title="References follow by name" onClick={() => void send({ do: "change alike", step: step.id, text: draft })}>To all {step.alike}</Button>
        )}
        <Button size="small" onClick={drop}>Cancel</Button>
      </Space>
    </div>
  );
}

/** What completes the text where the caret is. */
function Offers({ offers, at, take }: { offers: Completion[]; at: number; take: (offer: Completion) => void }) {
  return (
    <ul role="listbox" aria-label="Completions" style={{ listStyle: "none", margin: "2px 0", padding: 2, background: ink.field, border: `1px solid ${ink.line}`, borderRadius: 4, fontSize: 11.5 }}>
      {offers.map((offer, n) => (
        <li
          key={offer.hint}
          role="option"
          aria-selected={n === at}
          className="mono"
          title="Tab takes it"
          style={{ padding: "1px 6px", cursor: "pointer", background: n === at ? ink.chosen : undefined }}
          onMouseDown={(event) => {
            event.preventDefault();
            take(offer);
          }}
        >
          {offer.hint}
        </li>
      ))}
    </ul>
  );
}

/** What is wrong, under the character that causes it. */
function Trouble({ problem, text }: { problem: Problem; text: string }) {
  const column = problem.column ?? null;
  const from = column === null ? 0 : Math.max(0, column - 22);
  return (
    <div role="alert" style={{ color: ink.trouble, fontSize: 11.5, marginTop: 2 }}>
      {column !== null && (
        <pre className="mono" style={{ margin: 0, fontSize: 11, overflow: "hidden" }}>
          {text.replaceAll("\n", " ").slice(from, column + 16)}
          {"\n"}
          {" ".repeat(column - 1 - from)}▲
        </pre>
      )}
      {column !== null && `Column ${String(column)}: `}
      {problem.error}
      {problem.nearest?.length ? ` Nearest: ${problem.nearest.join(", ")}.` : ""}
    </div>
  );
}
