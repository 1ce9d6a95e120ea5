import { memo } from "react";

import type { PartView } from "../../api/client";
import { goTo } from "../../state/player";
import { useBlock, useSamples } from "../../state/samples";
import { shown } from "../../shared/format";
import { ink } from "../../shared/theme";
import { nearestGimbal } from "./gimbal";

/** Within so many degrees of a quarter turn the other two angles begin to turn for nothing. */
const near = 15;

/** Why a rotation may go wrong between its keys: the angle in the middle of its order comes near a
 * quarter turn, where the other two cannot be told apart. */
export const GimbalHint = memo(function GimbalHint({ part, channel }: { part: PartView; channel: string }) {
  const middle = part.rotation_order.charAt(1);
  const block = useBlock(channel.startsWith("rotation.") ? `${part.id}/rotation.${middle}/final` : null);
  const first = useSamples((samples) => samples.first);
  const found = block && nearestGimbal(block.data, first);
  if (!found || found.degrees > near) return null;
  return (
    <button
      type="button"
      className="bare"
      title="Near a quarter turn of the middle axis the first and the last axis lie on each other: what is keyed as angles wanders between keys. Another rotation order, under part…, keeps every keyed pose and away from it."
      onClick={() => { goTo(found.frame); }}
      style={{ position: "absolute", left: 12, bottom: 30, maxWidth: 104, fontSize: 11, lineHeight: "14px", color: ink.trouble }}
    >
      ▲ {middle} is {shown(found.degrees, "°", 1)} from gimbal lock at {found.frame}: try another rotation order
    </button>
  );
});
