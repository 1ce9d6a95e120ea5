import { Button } from "antd";
import { useShallow } from "zustand/react/shallow";

import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { isNear } from "../../shared/limbParts";
import { Popup } from "../../shared/Popup";
import { SwitchLimbs } from "../../ledger/limbs/SwitchLimbs";

/** Switches and matches the limbs of the chosen parts at once, or all where none is chosen. */
export function LimbSwitches() {
  const chosen = useSelection((selection) => selection.parts);
  const meant = useOpenScene(useShallow(({ header: { limbs }, parts }) => {
    const near = limbs.filter((limb) => isNear(limb, parts, chosen));
    return near.length ? near : limbs;
  }));
  if (!meant.length) return null;
  const names = meant.map(({ name }) => name).join(", ");
  return (
    <Popup placement="topRight" title={names} content={(close) => <SwitchLimbs limbs={meant.map(({ id }) => id)} onDone={close} />}>
      <Button size="small" type="text" title={`Switch ${names} to FK or IK here, so that nothing jumps`}>limbs</Button>
    </Popup>
  );
}
