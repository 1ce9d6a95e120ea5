import { useEffect, useState } from "react";

import { useOpenScene } from "../state/openScene";
import { ink } from "../shared/theme";
import { Authority } from "./Authority";
import { Bakes } from "./Bakes";
import { Inputs } from "./Inputs";
import { Moves } from "./Moves";
import { Overrides } from "./Overrides";
import { Player } from "./Player";
import type { PanelShown } from "./panel";
import { RightPanel } from "./RightPanel";
import { openReceiver, takeBaked, useReceiver } from "./receiver";
import { SendOut } from "./SendOut";
import { TakeIn } from "./TakeIn";
import { useBakes } from "./useBakes";
import { useStoredSetup } from "./useSetup";

/** Handing over: bakes and files on the left, the receiver that plays them, reports on the right. */
export function Deliver() {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const { data } = useBakes();
  const [shown, setShown] = useState<PanelShown>({ what: "authority" });
  const baked = (data?.bakes.length ?? 0) > 0;
  useEffect(() => { openReceiver(sceneId); }, [sceneId]);
  useStoredSetup();
  useEffect(() => { takeBaked(baked); }, [sceneId, revision, baked]);
  return (
    <div style={{ display: "flex", flex: 1, minHeight: 0 }}>
      <aside aria-label="Bakes and files" className="scroll" data-landmark tabIndex={-1} style={{ width: 248, flex: "none", background: ink.panel, borderRight: `1px solid ${ink.line}`, padding: "10px 12px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", alignContent: "start", gap: 12 }}>
        <Bakes onShow={setShown} />
        <SendOut onShow={setShown} />
        <TakeIn onShow={setShown} />
      </aside>
      <main aria-label="Receiver" data-landmark tabIndex={-1} style={{ flex: 1, minWidth: 0, display: "flex", flexDirection: "column", background: ink.ground }}>
        <Player ready={baked} />
        <div className="scroll" style={{ flex: "none", maxHeight: 300, borderTop: `1px solid ${ink.line}`, background: ink.panel, padding: "8px 14px", display: "grid", gridTemplateColumns: "minmax(0, 2fr) minmax(0, 1fr)", alignContent: "start", gap: "10px 20px" }}>
          <Moves />
          <Inputs />
          <Overrides />
          <Trouble />
        </div>
      </main>
      <aside aria-label="Report" data-landmark tabIndex={-1} className="scroll" style={{ width: 304, flex: "none", background: ink.panel, borderLeft: `1px solid ${ink.line}`, padding: "10px 12px" }}>
        <RightPanel shown={shown} onShow={setShown}>
          <Authority />
        </RightPanel>
      </aside>
    </div>
  );
}

/** What of the setup cannot be done: parts that are not in the file, moves that chase each other. */
function Trouble() {
  const played = useReceiver((state) => state.played);
  const setup = useReceiver((state) => state.setup);
  if (!played) return null;
  // What is moved by its name says at its own place what of it is missing.
  const named = new Set((setup.overrides ?? []).flatMap(({ kind, parts = [] }) => (kind === "by input" ? [] : parts)));
  const missing = played.missing.filter((name) => named.has(name));
  if (!missing.length && !played.chases.length) return null;
  return (
    <div role="status" style={{ color: ink.trouble, fontSize: 12 }}>
      {missing.length > 0 && <p style={{ margin: 0 }}>Not in the file: {missing.join(", ")}.</p>}
      {played.chases.slice(0, 3).map((one) => (
        <p key={`${String(one.first)} ${one.clips.join()}`} style={{ margin: 0 }}>
          {one.clips.join(" → ")} chase each other from {(one.first / played.rate).toFixed(2)} s on; none of these moves was made.
        </p>
      ))}
    </div>
  );
}
