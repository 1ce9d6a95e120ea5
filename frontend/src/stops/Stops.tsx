import { useEffect, useMemo } from "react";

import type { DrivenView } from "../api/client";
import { useBenchCommands } from "../bench/commands";
import { View3D } from "../view/View3D";
import { useOpenScene } from "../state/openScene";
import { chooseDriven, usePosing } from "../state/posing";
import { useSelection } from "../state/selection";
import { ink } from "../shared/theme";
import { PoseNote } from "../view/PoseNote";
import { SetList } from "./SetList";
import { Sheet } from "./Sheet";

/** Driven keys: sets on the left, the stops sheet of the chosen one beside. */
export function Stops() {
  useBenchCommands();
  const sets = useOpenScene((scene) => scene.header.driven);
  const chosen = usePosing((posing) => posing.driven);
  const set = sets.find(({ id }) => id === chosen);
  useEffect(() => {
    if (set) return;
    const asked = new URLSearchParams(window.location.search).get("driven");
    const { part, channel } = useSelection.getState();
    const drives = (one: DrivenView) => one.rows.some((row) => row.part === part && row.channel === channel);
    chooseDriven((sets.find(({ id }) => id === asked) ?? sets.find(drives) ?? sets[0])?.id ?? null);
  }, [set, sets]);
  useEffect(() => {
    if (!set) return;
    const query = new URLSearchParams(window.location.search);
    query.set("driven", set.id);
    window.history.replaceState(window.history.state, "", `?${query.toString()}`);
  }, [set]);
  const focus = useMemo(() => set?.rows.map(({ part }) => part) ?? [], [set?.rows]);
  return (
    <div style={{ display: "flex", flex: 1, minHeight: 0 }}>
      <aside style={{ width: 262, flex: "none", display: "flex", flexDirection: "column", background: ink.panel, borderRight: `1px solid ${ink.line}` }}>
        <SetList sets={sets} chosen={set?.id ?? null} />
        <div className="caps" style={{ padding: "10px 12px 6px", borderTop: `1px solid ${ink.line}` }}>View</div>
        <div style={{ flex: 1, minHeight: 180, margin: "0 10px", border: `1px solid ${ink.line}`, borderRadius: 8, overflow: "hidden" }}>
          <View3D focus={focus} />
        </div>
        <PoseNote />
      </aside>
      <main className="scroll" style={{ flex: 1, padding: "14px 18px" }}>
        {set ? (
          <Sheet key={set.id} set={set} />
        ) : (
          <p style={{ color: ink.quiet }}>
            No driven keys yet. A set maps one driver – a channel in braces, as in <span className="mono">{"{part.channel}"}</span>, or
            any formula – to values of many channels, by a table with a column for each stop. Add one with + on the left.
          </p>
        )}
      </main>
    </div>
  );
}
