import { App, Button, Space, Tooltip } from "antd";

import { useEffect } from "react";
import { useNavigate } from "react-router";

import { reason } from "../api/client";
import { useChecks, useCounting } from "../state/checks";
import { retrace } from "../state/scene";
import { useSamples } from "../state/samples";
import { openGuide } from "../state/guide";
import { openPopup } from "../state/popup";
import { choices, choosePaper } from "../shared/papers";
import { ink } from "../shared/theme";
import { Brand } from "../shared/Brand";
import { useOpenScene } from "../state/openScene";
import { useWaiting, warnOfWaiting } from "../state/waiting";
import { useCommands } from "../commands/commandList";
import { useKeys, useShortcuts } from "../commands/shortcuts";
import { Palette } from "../commands/Palette";
import type { View } from "./views";
import { views } from "./views";
import { ShortcutList } from "../commands/ShortcutList";

/** Name, state, views, undo and redo. */
export function TopBar({ view }: { view: View }) {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const header = useOpenScene((scene) => scene.header);
  const { message } = App.useApp();
  const keys = useKeys();
  const go = (way: "undo" | "redo") => {
    retrace(sceneId, way).then(
      (label) => void message.info(label, 2),
      (error: unknown) => void message.error(reason(error), 6),
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
      <h1 title={header.name} style={{ margin: 0, fontSize: "inherit", flex: "0 1 auto", minWidth: 40, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{header.name}</h1>
      <Saved revision={header.revision} />
      <span style={{ flex: 1 }} />
      <ViewLinks view={view} />
      <Space>
        <Palette />
        <ShortcutList />
        <Tooltip title={header.undo ? `Undo: ${header.undo} (${keys.undo})` : "Nothing to undo"}>
          <Button data-undo disabled={!header.undo} onClick={() => { go("undo"); }}>Undo</Button>
        </Tooltip>
        <Tooltip title={header.redo ? `Redo: ${header.redo} (${keys.redo})` : "Nothing to redo"}>
          <Button disabled={!header.redo} onClick={() => { go("redo"); }}>Redo</Button>
        </Tooltip>
      </Space>
    </header>
  );
}

/** Whether all is saved, and what is in the way. */
function Saved({ revision }: { revision: number }) {
  const problem = useSamples((samples) => samples.problem);
  const waiting = useWaiting(({ edits }) => edits);
  useEffect(() => {
    window.addEventListener("beforeunload", warnOfWaiting);
    return () => { window.removeEventListener("beforeunload", warnOfWaiting); };
  }, []);
  const text = waiting ? `Not saved yet: ${waiting === 1 ? "an edit waits" : `${String(waiting)} edits wait`} for the server and goes when it answers` : (problem ?? `saved · edit ${String(revision)}`);
  return (
    <span title={text} style={{ color: waiting || problem ? ink.trouble : ink.quiet, minWidth: 0, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }} role="status">
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
  return <span className="mono" title={looking ? "checks are looking" : `${String(count)} findings`} style={{ marginLeft: 5, opacity: looking ? 0.5 : 1 }}>{looking && !count ? "…" : count || ""}</span>;
}
