import type { ReactNode } from "react";

import { usePanels } from "../state/panels";
import { PosingBanner } from "../view/PoseNote";
import { ink } from "../shared/theme";
import { Channels } from "../ledger/channels/Channels";
import { useBenchCommands } from "./commands";
import { CurvePanel } from "../time/curves/CurvePanel";
import { KitForm } from "../kit/KitForm";
import { LeftPanel } from "./LeftPanel";
import { Account } from "../ledger/Ledger";
import { Panels } from "./Panels";
import { TriedBanner } from "./KeyState";
import { useTreeHeight } from "./treeHeight";
import { Transport } from "./Transport";
import { View3D } from "../view/View3D";

/** Parts and channels on the left, view over time in the middle, ledger on the right. */
export function Bench() {
  useBenchCommands();
  const folded = usePanels((panels) => panels.folded);
  const tree = useTreeHeight();
  return (
    <Panels name="bench" sizes={[258, undefined, 310]} folded={[folded.includes("left"), false, folded.includes("ledger")]}>
      <Panels name="left" vertical sizes={[tree, undefined]}>
        <Panel label="Parts and kit"><LeftPanel /></Panel>
        <Panel label="Channels of the part"><Channels /></Panel>
      </Panels>
      <main style={{ height: "100%", display: "flex" }}>
        <Panels name="middle" vertical sizes={[undefined, 396]} folded={[false, folded.includes("time")]}>
          <div style={{ display: "flex", height: "100%" }}>
            {!folded.includes("left") && <KitForm />}
            <View3D />
          </div>
          <Panel label="Time">
            <PosingBanner />
            <TriedBanner />
            <Transport />
            <CurvePanel />
          </Panel>
        </Panels>
      </main>
      <Panel label="Account"><Account /></Panel>
    </Panels>
  );
}

function Panel({ label, children }: { label: string; children: ReactNode }) {
  return (
    <section
      aria-label={label}
      data-landmark
      tabIndex={-1}
      style={{ height: "100%", display: "flex", flexDirection: "column", background: ink.panel }}
    >
      {children}
    </section>
  );
}
