import { Button, Input, Select, Space } from "antd";
import type { TextAreaRef } from "antd/es/input/TextArea";
import { useEffect, useRef, useState } from "react";

import type { BeadView, OneEdit, Problem, StepView } from "../../api/client";
import { post, reason, Refused } from "../../api/client";
import { sendEdits } from "../../state/scene";
import { beginEditing, useEditing } from "../../state/editing";
import { useOpenScene } from "../../state/openScene";
import { feed } from "../../state/samples";
import { ink } from "../../shared/theme";
import { useLatest } from "../../shared/useLatest";
import { CopyMenu } from "./CopyMenu";
import type { Completion } from "./completions";
import { completionsAt } from "./completions";
import { FormulaText } from "./FormulaText";

type Settings = Extract<StepView["settings"], { kind?: "formula" }>;

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
  const { area, draft, mode, setMode, problem, offers, at, edited, send, drop, type, take, onKeyDown } = useEditor(step, settings, onDone);
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
      {offers.length > 0 && <Offers offers={offers} at={at} take={take} />}
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

/** The text that is being typed, what it would do, and what the keyboard does to it. */
function useEditor(step: StepView, settings: Settings, onDone: () => void) {
  const [draft, setDraft] = useState(settings.text);
  const [found, setFound] = useState<Problem | null>(null);
  // A check may find nothing wrong with what could not be stored.
  const [refused, setRefused] = useState<Problem | null>(null);
  const [mode, setMode] = useState(settings.mode ?? "set");
  const area = useRef<TextAreaRef>(null);
  const [offers, setOffers] = useState<Completion[]>([]);
  const [at, setAt] = useState(0);
  const edited = (text: string): OneEdit => ({
    do: "change step",
    step: step.id,
    settings: { ...settings, mode, text, kind: "formula" as const },
  });
  useLive(draft, edited(draft), setFound);

  const latest = useLatest(draft);
  const send = async (...edits: OneEdit[]) => {
    try {
      await sendEdits(useOpenScene.getState().sceneId, edits);
      // What was typed meanwhile stays, to be sent as well.
      if (latest.current === draft) onDone();
    } catch (error) {
      setRefused(error instanceof Refused ? error.problem : { error: reason(error) });
    }
  };
  const drop = () => {
    feed.tryOut([]);
    onDone();
  };
  const type = (text: string, caret: number) => {
    setDraft(text);
    setFound(null);
    setRefused(null);
    setAt(0);
    setOffers(completionsAt(text, caret, Object.values(useOpenScene.getState().parts)));
  };
  const take = (offer: Completion) => {
    const field = area.current?.resizableTextArea?.textArea;
    const caret = field?.selectionStart ?? draft.length;
    const next = draft.slice(0, offer.from) + offer.text + draft.slice(caret);
    const place = offer.from + offer.text.length;
    type(next, place);
    requestAnimationFrame(() => {
      field?.focus();
      field?.setSelectionRange(place, place);
    });
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    event.stopPropagation();
    const offer = offers[at];
    if (offer && (event.key === "ArrowDown" || event.key === "ArrowUp")) {
      event.preventDefault();
      setAt((at + (event.key === "ArrowDown" ? 1 : offers.length - 1)) % offers.length);
    } else if (offer && event.key === "Tab") {
      event.preventDefault();
      take(offer);
    } else if (event.key === "Enter" && !event.shiftKey) {
      event.preventDefault();
      void send(edited(draft));
    } else if (event.key === "Escape") {
      if (offers.length) setOffers([]);
      else drop();
    }
  };
  return { area, draft, mode, setMode, problem: refused ?? found, offers, at, edited, send, drop, type, take, onKeyDown };
}

/** Shows what the formula would do while it is typed, and what is wrong with it. */
function useLive(draft: string, edit: OneEdit, setProblem: (problem: Problem | null) => void) {
  const latest = useLatest(edit);
  useEffect(() => {
    let gone = false;
    const timer = window.setTimeout(() => {
      const { sceneId } = useOpenScene.getState();
      fetchChecked(sceneId, latest.current).then(
        (problem) => {
          if (gone) return;
          setProblem(problem);
          if (!problem) feed.tryOut([latest.current]);
        },
        () => undefined,
      );
    }, 150);
    return () => {
      gone = true;
      window.clearTimeout(timer);
    };
  }, [draft, setProblem, latest]);
}

async function fetchChecked(sceneId: number, edit: OneEdit): Promise<Problem | null> {
  try {
    await post(`/api/scenes/${String(sceneId)}/check`, { edits: [edit] });
    return null;
  } catch (error) {
    if (error instanceof Refused) return error.problem;
    throw error;
  }
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
