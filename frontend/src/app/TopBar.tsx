import { App, Button, Space } from "antd";

import { useNavigate } from "react-router";

import { reason } from "../api/client";
import { counted } from "../shared/format";
import { useChecks, useCounting } from "../state/checks";
import { retrace } from "../state/scene";
import { useSamples } from "../state/samples";
import { openGuide } from "../state/guide";
import { openPopup } from "../state/popup";
import { Hint } from "../shared/Hint";
import { choices, choosePaper } from "../shared/papers";
import { ink } from "../shared/theme";
import { Brand } from "../shared/Brand";
import { useOpenScene } from "../state/openScene";
import { useWaitingWords } from "../state/waiting";
import { useCommands } from "../commands/commandList";
import { useKeys, useShortcuts } from "../commands/shortcuts";
import { Palette } from "../commands/Palette";
import type { View } from "./views";
import { views } from "./views";
import { ShortcutList } from "../commands/ShortcutList";

/** Name, state, views, undo and redo. */
export function TopBar({ view }: { view: View }) {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const name = useOpenScene((scene) => scene.header.name);
  const { message } = App.useApp();
  const go = (way: Way) => {
    // Each message in the place of the one before: who goes far back reads where that led.
    const key = "retraced";
    retrace(sceneId, way).then(
      (content) => void message.info({ key, content, duration: 2 }),
      (error: unknown) => void message.error({ key, content: reason(error), duration: 6 }),
    );
  };
  useShortcuts({ undo: () => { go("undo"); }, redo: () => { go("redo"); } });
  const navigate = useNavigate();
  useCommands("top bar", () => [
    { name: "Undo", shortcut: "undo", run: () => { go("undo"); } },
    { name: "Redo", shortcut: "redo", run: () => { go("redo"); } },
    ...Object.entries(views).map(([name, label]) => ({ name: `Go to ${label}`, run: () => void navigate(`/scenes/${String(sceneId)}/${name}${window.location.search}`) })),
    { name: "Open another scene: all scenes", run: () => void navigate("/") },
    { name: "Export the scene as a file", run: () => { window.location.assign(`/api/scenes/${String(sceneId)}/export`); } },
    { name: "Guide", run: () => { openGuide(); } },
    ...choices.map((choice) => ({ name: `Paper: ${choice}`, run: () => { choosePaper(choice); } })),
    { name: "Keys of the keyboard", shortcut: "list", run: () => { openPopup("shortcuts"); } },
  ]);
  return (
    <header
      style={{
        display: "flex",
        alignItems: "center",
        gap: 16,
        height: 44,
        padding: "0 14px",
        background: ink.panel,
        borderBottom: `1px solid ${ink.line}`,
        flex: "none",
      }}
    >
      <Brand />
      <h1 title={name} style={{ margin: 0, fontSize: "inherit", flex: "0 1 auto", minWidth: 40, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{name}</h1>
      <Saved />
      <span style={{ flex: 1 }} />
      <ViewLinks view={view} />
      <Space>
        <Palette />
        <ShortcutList />
        <Retrace way="undo" word="Undo" go={go} />
        <Retrace way="redo" word="Redo" go={go} />
      </Space>
    </header>
  );
}

type Way = "undo" | "redo";

/** One way through what was done; its hint says what it would bring. */
function Retrace({ way, word, go }: { way: Way; word: string; go: (way: Way) => void }) {
  const keys = useKeys((all) => all[way]);
  const what = useOpenScene((scene) => scene.header[way]);
  return (
    <Hint title={what ? `${word}: ${what} (${keys})` : `Nothing to ${way}`}>
      <Button data-undo={way === "undo" || undefined} disabled={!what} onClick={() => { go(way); }}>{word}</Button>
    </Hint>
  );
}

/** Whether all is saved, and what is in the way. */
function Saved() {
  const revision = useOpenScene((scene) => scene.header.revision);
  const problem = useSamples((samples) => samples.problem);
  const waiting = useWaitingWords();
  const text = waiting ?? problem ?? `saved · edit ${String(revision)}`;
  return (
    <span title={text} style={{ color: waiting !== null || problem !== null ? ink.trouble : ink.quiet, minWidth: 0, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }} role="status">
      {text}
    </span>
  );
}

/** The views of the scene; each keeps selection and frame. */
function ViewLinks({ view }: { view: View }) {
  const navigate = useNavigate();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  return (
    <nav aria-label="Views" style={{ display: "flex", gap: 2 }}>
      {Object.entries(views).map(([name, label]) => (
        <Button
          key={name}
          type={name === view ? "primary" : "text"}
          aria-current={name === view ? "page" : undefined}
          onClick={() => void navigate(`/scenes/${String(sceneId)}/${name}${window.location.search}`)}
        >
          {label}{name === "checks" && <Count />}
        </Button>
      ))}
    </nav>
  );
}

/** How many findings nobody accepted; dots while checks look. */
function Count() {
  const { data, looking } = useChecks();
  useCounting(data);
  const count = data?.findings.filter(({ accepted }) => accepted === null).length;
  if (count === undefined) return null;
  return <span className="mono" title={looking ? "checks are looking" : counted(count, "finding")} style={{ marginLeft: 5, opacity: looking ? 0.5 : 1 }}>{looking && !count ? "…" : count || ""}</span>;
}
