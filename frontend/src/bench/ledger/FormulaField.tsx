import { Button, Input, Select, Space } from "antd";
import { useState } from "react";

import type { Problem, StepView } from "../../api/client";
import { reason, Refused } from "../../api/client";
import { sendEdits } from "../../api/scene";
import { useOpenScene } from "../../state/openScene";
import { ink } from "../../theme";

type Settings = Extract<StepView["settings"], { kind?: "formula" }>;

/** A formula, and the field to change it. A wrong one is refused here; the old one stays. */
export function FormulaField({ step, settings }: { step: StepView; settings: Settings }) {
  const [draft, setDraft] = useState<string | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);

  const send = async (next: Partial<Settings>) => {
    const changed = { ...settings, ...next, kind: "formula" as const };
    try {
      await sendEdits(useOpenScene.getState().sceneId, [{ do: "change step", step: step.id, settings: changed }]);
      setDraft(null);
      setProblem(null);
    } catch (error) {
      setProblem(error instanceof Refused ? error.problem : { error: reason(error) });
    }
  };
  const drop = () => {
    setDraft(null);
    setProblem(null);
  };

  if (draft === null) {
    return (
      <button
        type="button"
        className="mono"
        title="Change the formula"
        aria-label={`Formula of ${step.name}`}
        onClick={() => {
          setDraft(settings.text);
        }}
        style={{
          all: "unset",
          cursor: "text",
          display: "block",
          fontSize: 11.5,
          color: ink.quiet,
          overflowWrap: "anywhere",
        }}
      >
        {step.description}
      </button>
    );
  }
  return (
    <div style={{ margin: "4px 0" }}>
      <Input.TextArea
        className="mono"
        aria-label={`Formula of ${step.name}`}
        autoFocus
        autoSize={{ minRows: 2, maxRows: 8 }}
        status={problem ? "error" : ""}
        value={draft}
        spellCheck={false}
        style={{ fontSize: 11.5 }}
        onChange={(event) => {
          setDraft(event.target.value);
          setProblem(null);
        }}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter" && !event.shiftKey) {
            event.preventDefault();
            void send({ text: draft });
          }
          if (event.key === "Escape") drop();
        }}
      />
      {problem && <Trouble problem={problem} text={draft} />}
      <Space size={6} style={{ marginTop: 4 }}>
        <Select
          size="small"
          aria-label="How it writes"
          style={{ width: 74 }}
          value={settings.mode ?? "set"}
          options={["set", "add", "scale"].map((value) => ({ value, label: value }))}
          onChange={(mode) => void send({ mode, text: draft })}
        />
        <Button size="small" type="primary" onClick={() => void send({ text: draft })}>
          Apply
        </Button>
        <Button size="small" onClick={drop}>Cancel</Button>
      </Space>
    </div>
  );
}

/** What is wrong, under the character that causes it. */
function Trouble({ problem, text }: { problem: Problem; text: string }) {
  const column = problem.column ?? null;
  const from = column === null ? 0 : Math.max(0, column - 22);
  return (
    <div role="alert" style={{ color: "#B5321D", fontSize: 11.5, marginTop: 2 }}>
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
