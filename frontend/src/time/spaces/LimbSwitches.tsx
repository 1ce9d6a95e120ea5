import { Button } from "antd";

import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { isNear } from "../../shared/limbParts";
import { Popup } from "../../shared/Popup";
import { SwitchLimbs } from "../../ledger/limbs/SwitchLimbs";

/** Switches and matches the limbs of the chosen parts at once, or all where none is chosen. */
export function LimbSwitches() {
  const limbs = useOpenScene((scene) => scene.header.limbs);
  const parts = useOpenScene((scene) => scene.parts);
  const chosen = useSelection((selection) => selection.parts);
  if (!limbs.length) return null;
  const near = limbs.filter((limb) => isNear(limb, parts, chosen));
  const meant = near.length ? near : limbs;
  const names = meant.map(({ name }) => name).join(", ");
  return (
    <Popup placement="topRight" title={names} content={(close) => <SwitchLimbs limbs={meant.map(({ id }) => id)} onDone={close} />}>
      <Button size="small" type="text" title={`Switch ${names} to FK or IK here, so that nothing jumps`}>limbs</Button>
    </Popup>
  );
}
