import { Splitter } from "antd";
import type { ReactNode } from "react";
import { useState } from "react";

import { PosingBanner } from "../view/PoseNote";
import { ink } from "../shared/theme";
import { Channels } from "../ledger/channels/Channels";
import { useBenchCommands } from "./commands";
import { CurvePanel } from "../time/curves/CurvePanel";
import { LeftPanel } from "./LeftPanel";
import { Ledger } from "../ledger/Ledger";
import { TriedBanner } from "./KeyState";
import { Transport } from "./Transport";
import { View3D } from "../view/View3D";

/** Parts and channels on the left, view over time in the middle, ledger on the right. */
export function Bench() {
  useBenchCommands();
  return (
    <Remembered name="bench" sizes={[258, undefined, 310]}>
      <Remembered name="left" vertical sizes={[372, undefined]}>
        <Panel label="Parts and kit"><LeftPanel /></Panel>
        <Panel label="Channels of the part"><Channels /></Panel>
      </Remembered>
      <Remembered name="middle" vertical sizes={[undefined, 396]}>
        <View3D />
        <Panel label="Time">
          <PosingBanner />
          <TriedBanner />
          <Transport />
          <CurvePanel />
        </Panel>
      </Remembered>
      <Panel label="Account"><Ledger /></Panel>
    </Remembered>
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

interface RememberedProps {
  name: string;
  vertical?: boolean;
  /** Sizes in pixels at first; undefined takes what is left. */
  sizes: (number | undefined)[];
  children: ReactNode[];
}

/** Panels that resize, and keep their sizes in this browser. */
function Remembered({ name, vertical, sizes, children }: RememberedProps) {
  const [now, setNow] = useState(() => remembered(name, sizes));
  return (
    <Splitter
      orientation={vertical ? "vertical" : "horizontal"}
      style={{ flex: 1, minHeight: 0 }}
      onResize={(next) => {
        // The panel without a size of its own keeps taking what is left.
        setNow(next.map((size, n) => (sizes[n] === undefined ? undefined : size)));
      }}
      onResizeEnd={(next) => {
        localStorage.setItem(`bindu.panels.${name}`, JSON.stringify(next));
      }}
    >
      {children.map((child, n) => (
        <Splitter.Panel
          key={n}
          min={sizes[n] === undefined ? 160 : 120}
          {...(now[n] === undefined ? {} : { size: now[n] })}
        >
          {child}
        </Splitter.Panel>
      ))}
    </Splitter>
  );
}

function remembered(name: string, sizes: (number | undefined)[]): (number | undefined)[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(`bindu.panels.${name}`) ?? "null");
    if (!Array.isArray(kept) || kept.length !== sizes.length) return sizes;
    return sizes.map((size, n) => (size === undefined ? undefined : Number(kept[n]) || size));
  } catch {
    return sizes;
  }
}
