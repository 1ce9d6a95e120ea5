import type { Limb } from "../../api/client";
import { shown } from "../../shared/format";
import { ink } from "../../shared/theme";
import { useLimbState } from "./useLimbState";

/** How a limb meets its goal on this frame: which way, how far, and what is missing. */
export function LimbNote({ limb }: { limb: Limb }) {
  const state = useLimbState(limb);
  if (!state) return <div style={{ fontSize: 11.5, color: ink.quiet }}>…</div>;
  const misses = state.missed > 5e-7;
  const number = (value: number, unit: string) => <span className="mono">{shown(value, unit)}</span>;
  return (
    <div aria-label={`Solution of ${limb.name}`} style={{ fontSize: 11.5 }}>
      {state.branch}, bend {number(state.bend, "°")}
      {state.factor > 1.0000005 && <> · {number(state.factor, "")} times as long</>}
      <br />
      goal at {number(state.distance, "m")} of {number(state.reach, "m")} reach ·{" "}
      {misses ? <strong style={{ color: ink.trouble }}>misses it by {number(state.missed, "m")}</strong> : "meets it"}
    </div>
  );
}
