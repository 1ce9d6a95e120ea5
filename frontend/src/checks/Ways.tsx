import { Line } from "@react-three/drei";

import type { WayView } from "../state/checks";
import { ink } from "../shared/theme";

/** The ways that show a finding, in the view: one that is not gone is dashed. */
export function Ways({ ways }: { ways: WayView[] }) {
  return ways.map((way) => (
    <Line key={way.name} points={way.points} color={way.dashed ? ink.ink : ink.trouble} lineWidth={way.dashed ? 1.5 : 2} dashed={way.dashed} dashSize={0.04} gapSize={0.03} depthTest={false} transparent renderOrder={5} />
  ));
}

/** What each of them is. */
export function WayWords({ ways }: { ways: WayView[] }) {
  return (
    <ul aria-label="Ways in the view" style={{ listStyle: "none", margin: 0, padding: 0, fontSize: 12, display: "grid", gap: 2 }}>
      {ways.map((way) => (
        <li key={way.name} style={{ display: "flex", gap: 6, alignItems: "baseline" }}>
          <span aria-hidden style={{ flex: "none", width: 18, borderTop: way.dashed ? `2px dashed ${ink.ink}` : `2px solid ${ink.trouble}`, transform: "translateY(-4px)" }} />
          {way.name}
        </li>
      ))}
    </ul>
  );
}
