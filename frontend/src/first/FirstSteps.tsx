import { Button } from "antd";
import { useEffect, useState } from "react";

import type { ShortcutName } from "../commands/shortcuts";
import { useKeys } from "../commands/shortcuts";
import { goFirst, useFirst } from "../state/first";
import { openGuide } from "../state/guide";
import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { useSelection } from "../state/selection";
import { ink } from "../shared/theme";
import type { Seen } from "./steps";
import { cart, steps } from "./steps";

/** The path of the first five minutes, in the scene where it was begun: what to do next, and where. */
export function FirstSteps() {
  const at = useFirst((first) => first.at);
  const sceneId = useOpenScene((scene) => scene.sceneId);
  return at?.scene === sceneId ? <Path scene={sceneId} step={at.step} /> : null;
}

function useSeen(): Seen {
  const { order, parts, header } = useOpenScene();
  const { part, channel } = useSelection();
  const frame = usePlayer((player) => player.frame);
  const playing = usePlayer((player) => player.playing);
  return {
    parts: order.flatMap((id) => parts[id] ?? []),
    frame,
    playing,
    chosen: part && channel ? `${part}/${channel}` : null,
    undone: header.redo !== null,
  };
}

function Path({ scene, step }: { scene: number; step: number }) {
  const seen = useSeen();
  const now = steps[step];
  const keys = useKeys();
  const isDone = now?.done(seen) ?? false;
  useEffect(() => {
    if (isDone) goFirst({ scene, step: step + 1 });
  }, [isDone, scene, step]);
  return (
    <>
      {now && <Ring at={now.at} />}
      <aside aria-label="First five minutes" data-landmark tabIndex={-1} style={{ position: "fixed", right: 16, bottom: 52, width: 300, zIndex: 35, display: "grid", gap: 8, padding: "10px 12px", background: ink.field, border: `2px solid ${ink.picked}`, borderRadius: 8, boxShadow: "0 6px 18px rgb(0 0 0 / 18%)" }}>
        <div className="caps" style={{ display: "flex" }}>
          <span style={{ flex: 1 }}>First five minutes</span>
          {now && <span>{step + 1} of {steps.length}</span>}
        </div>
        <div role="status">{now ? said(now.say, seen, keys) : "That is all: parts, keys, a formula, the ledger. The examples on the home page go on from here, and the guide explains each panel; its headings open it."}</div>
        <div style={{ display: "flex", gap: 6 }}>
          {!now && <Button size="small" onClick={() => { goFirst(null); openGuide(); }}>Guide</Button>}
          <span style={{ flex: 1 }} />
          {now && <Button size="small" type="text" onClick={() => { goFirst({ scene, step: step + 1 }); }}>Skip</Button>}
          <Button size="small" onClick={() => { goFirst(null); }}>{now ? "Leave" : "Close"}</Button>
        </div>
      </aside>
    </>
  );
}

/** The words of a step, with the cart's name and the keys as they are here. */
function said(words: string, seen: Seen, keys: Record<ShortcutName, string>): string {
  return words
    .replaceAll("{cart}", `{${cart(seen)?.name ?? "cart"}}`)
    .replace(/\[(\w+)\]/g, (_, command: ShortcutName) => keys[command]);
}

const often = 200;

/** A ring around the control that a step is about, wherever it is now. */
function Ring({ at }: { at: string }) {
  const [box, setBox] = useState<DOMRect | null>(null);
  useEffect(() => {
    const look = () => { setBox(document.querySelector(at)?.getBoundingClientRect() ?? null); };
    look();
    const timer = window.setInterval(look, often);
    return () => { window.clearInterval(timer); };
  }, [at]);
  if (!box?.width) return null;
  return <div aria-hidden data-ring style={{ position: "fixed", left: box.left - 4, top: box.top - 4, width: box.width + 8, height: box.height + 8, border: `2px solid ${ink.picked}`, borderRadius: 8, boxSizing: "border-box", pointerEvents: "none", zIndex: 34 }} />;
}
