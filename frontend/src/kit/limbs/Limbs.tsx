import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { isNear } from "../../shared/limbParts";
import { ink } from "../../shared/theme";
import { LimbCard } from "../../ledger/limbs/LimbCard";
import { Gaits } from "../gaits/Gaits";
import { MakeLimb } from "./MakeLimb";

/** Limbs: chains that reach for a goal. Those of the chosen parts come first. */
export function Limbs() {
  const limbs = useOpenScene((scene) => scene.header.limbs);
  const chosen = useSelection((selection) => selection.parts);
  const parts = useOpenScene((scene) => scene.parts);
  const near = (limb: (typeof limbs)[number]) => isNear(limb, parts, chosen);
  const sorted = [...limbs.filter(near), ...limbs.filter((limb) => !near(limb))];
  return (
    <div className="scroll" style={{ flex: 1, padding: "8px 10px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", alignContent: "start", gap: 8 }}>
      <MakeLimb />
      {sorted.map((limb) => <LimbCard key={limb.id} limb={limb} />)}
      {!limbs.length && <p style={{ margin: 0, color: ink.quiet }}>No limbs yet. A limb bends a chain of parts by IK, on top of its FK pose, until its end is on its goal.</p>}
      <Gaits />
    </div>
  );
}
