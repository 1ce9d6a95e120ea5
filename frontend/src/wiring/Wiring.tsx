import { InputNumber, Segmented } from "antd";
import { useMemo } from "react";

import type { WireView, WiringView } from "../state/order";
import { useAbout } from "../state/order";
import { useBenchCommands } from "../bench/commands";
import { Ledger } from "../ledger/Ledger";
import { useOpenScene } from "../state/openScene";
import { useSelection } from "../state/selection";
import { tapColour } from "../shared/tapColours";
import { ink } from "../shared/theme";
import type { Reach } from "./filter";
import { filtered, folded } from "./filter";
import { LoopsPanel } from "./LoopsPanel";
import { OrderList } from "./OrderList";
import { Picture } from "./Picture";
import { wireNow } from "./reads";
import type { Tab } from "./state";
import { useWiring } from "./state";
import { WhatIf } from "./whatif/WhatIf";
import { WirePanel } from "./WirePanel";

const few = 60;

/** What reads what: parts as cards in columns by rank, loops and order beside. */
export function Wiring() {
  useBenchCommands();
  const { data } = useAbout<WiringView>("wiring");
  const { reach: asked, steps, folded: tops, tab } = useWiring();
  const part = useSelection((selection) => selection.part);
  const parts = useOpenScene((scene) => scene.parts);
  const wired = useMemo(() => new Set(data?.cards.map((card) => card.part)), [data]);
  const reach: Reach = asked ?? (wired.size <= few ? "everything" : "feeds");
  const picture = useMemo(() => {
    const parents = Object.fromEntries(Object.values(parts).map(({ id, parent }) => [id, parent]));
    const whole = folded({ cards: data?.cards ?? [], wires: data?.wires ?? [] }, parents, tops);
    return filtered(whole, { reach, part, steps });
  }, [data, parts, tops, reach, part, steps]);
  return (
    <div style={{ display: "flex", flex: 1, minHeight: 0 }}>
      <main aria-label="Wiring" style={{ position: "relative", flex: 1, minWidth: 0, background: ink.ground }}>
        {data && !data.cards.length && (
          <p style={{ position: "absolute", left: 24, top: 24, maxWidth: 420, color: ink.quiet, zIndex: 2 }}>
            Nothing reads anything yet. Bind a part or drive a channel on the Bench; what reads what shows here.
          </p>
        )}
        {picture.cards.length > 0 && <Picture shown={picture} />}
        {data && data.cards.length > 0 && !picture.cards.length && (
          <p style={{ position: "absolute", left: 24, top: 60, color: ink.quiet }}>{part ? "The chosen part neither reads nor is read." : "Choose a part, or show everything."}</p>
        )}
        <Filter reach={reach} wired={wired.size} />
        <Legend />
      </main>
      <aside style={{ width: 310, flex: "none", display: "flex", flexDirection: "column", background: ink.panel, borderLeft: `1px solid ${ink.line}` }}>
        <div style={{ padding: "8px 12px 4px" }}>
          <Segmented<Tab> block size="small" aria-label="What stands beside the wiring" value={tab} options={["order", "ledger", "what if"]} onChange={(value) => { useWiring.setState({ tab: value }); }} />
        </div>
        <Beside tab={tab} wires={picture.wires} />
      </aside>
    </div>
  );
}

function Beside({ tab, wires }: { tab: Tab; wires: WireView[] }) {
  const chosen = useWiring((state) => state.wire);
  const wire = wireNow(wires, chosen);
  if (tab === "ledger") return <Ledger />;
  if (tab === "what if") return <div className="scroll" style={{ flex: 1, padding: "6px 12px 12px" }}><WhatIf /></div>;
  return (
    <div style={{ display: "flex", flexDirection: "column", flex: 1, minHeight: 0, padding: "0 12px 8px" }}>
      <div className="scroll" style={{ flex: "0 1 auto", maxHeight: "62%" }}>
        {wire && <WirePanel wire={wire} />}
        <LoopsPanel />
      </div>
      <OrderList />
    </div>
  );
}

function Filter({ reach, wired }: { reach: Reach; wired: number }) {
  const steps = useWiring((state) => state.steps);
  const part = useOpenScene((scene) => scene.parts);
  const chosen = useSelection((selection) => selection.part);
  const name = chosen ? part[chosen]?.name : undefined;
  return (
    <div style={{ position: "absolute", left: 12, bottom: 12, zIndex: 5, display: "flex", gap: 8, alignItems: "center", background: ink.field, border: `1px solid ${ink.line}`, borderRadius: 8, padding: "5px 10px" }} onKeyDown={(event) => { event.stopPropagation(); }}>
      <Segmented<Reach> size="small" aria-label="What of the wiring is shown" value={reach} options={[{ value: "feeds", label: `what feeds ${name ?? "it"}` }, { value: "fed by", label: "what it feeds" }, { value: "both", label: "both" }, { value: "everything", label: `all ${String(wired)} parts` }]} onChange={(value) => { useWiring.setState({ reach: value }); }} />
      {reach !== "everything" && (
        <span style={{ whiteSpace: "nowrap" }}>
          <InputNumber size="small" aria-label="How many reads far" min={1} max={99} placeholder="all" value={steps} style={{ width: 54 }} onChange={(value) => { useWiring.setState({ steps: value }); }} /> far
        </span>
      )}
    </div>
  );
}

function Legend() {
  const words = [...(["driven", "bound", "solved", "late", "final"] as const).map((tap) => [tap, tapColour[tap]] as const)];
  return (
    <div aria-hidden style={{ position: "absolute", right: 12, bottom: 12, zIndex: 5, display: "flex", gap: 10, background: ink.field, border: `1px solid ${ink.line}`, borderRadius: 8, padding: "4px 10px", fontSize: 12 }}>
      {words.map(([word, colour]) => <span key={word}><span style={{ color: colour, fontWeight: 700 }}>━</span> {word}</span>)}
      <span><span style={{ color: ink.trouble, fontWeight: 700 }}>▬</span> loop</span>
    </div>
  );
}
