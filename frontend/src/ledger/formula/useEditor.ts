import type { TextAreaRef } from "antd/es/input/TextArea";
import { useEffect, useRef, useState } from "react";

import type { OneEdit, Problem, StepView } from "../../api/client";
import { post, reason, Refused } from "../../api/client";
import { sendEdits } from "../../state/scene";
import { useOpenScene } from "../../state/openScene";
import { feed } from "../../state/samples";
import { useLatest } from "../../shared/useLatest";
import type { Completion } from "./completions";
import { completionsAt } from "./completions";

export type Settings = Extract<StepView["settings"], { kind?: "formula" }>;

/** The text that is being typed, what it would do, and what the keyboard does to it. */
export function useEditor(step: StepView, settings: Settings, onDone: () => void) {
  const [draft, setDraft] = useState(settings.text);
  const [found, setFound] = useState<Problem | null>(null);
  // A check may find nothing wrong with what could not be stored.
  const [refused, setRefused] = useState<Problem | null>(null);
  const [mode, setMode] = useState(settings.mode ?? "set");
  const area = useRef<TextAreaRef>(null);
  const { completion, offer, onOffers } = useOffers();
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
    offer(text, caret);
  };
  const take = (taken: Completion) => {
    const field = area.current?.resizableTextArea?.textArea;
    const caret = field?.selectionStart ?? draft.length;
    const place = taken.from + taken.text.length;
    type(draft.slice(0, taken.from) + taken.text + draft.slice(caret), place);
    requestAnimationFrame(() => {
      field?.focus();
      field?.setSelectionRange(place, place);
    });
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    event.stopPropagation();
    if (onOffers(event, take)) event.preventDefault();
    else if (event.key === "Enter" && !event.shiftKey) {
      event.preventDefault();
      void send(edited(draft));
    } else if (event.key === "Escape") drop();
  };
  return { area, draft, mode, setMode, problem: refused ?? found, completion, edited, send, drop, type, take, onKeyDown };
}

/** What completes the text where the caret is, and which of it Tab takes. */
function useOffers() {
  const [offers, setOffers] = useState<Completion[]>([]);
  const [at, setAt] = useState(0);
  const offer = (text: string, caret: number) => {
    setAt(0);
    setOffers(completionsAt(text, caret, Object.values(useOpenScene.getState().parts)));
  };
  /** Whether the key went to the offers: arrows go through them, Tab takes one, Esc sends them away. */
  const onOffers = (event: React.KeyboardEvent, take: (offer: Completion) => void): boolean => {
    const offered = offers[at];
    if (!offered) return false;
    if (event.key === "ArrowDown") setAt((at + 1) % offers.length);
    else if (event.key === "ArrowUp") setAt((at + offers.length - 1) % offers.length);
    else if (event.key === "Tab") take(offered);
    else if (event.key === "Escape") setOffers([]);
    else return false;
    return true;
  };
  return { completion: { offers, at }, offer, onOffers };
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
