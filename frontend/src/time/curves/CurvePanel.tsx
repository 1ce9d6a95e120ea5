import { keyedCurve, keyedId, useChosenLayer } from "../../state/keying";
import { useChosenChannel, useChosenPart } from "../../state/openScene";
import { ink } from "../../shared/theme";
import { Lanes } from "../lanes/Lanes";
import { KeyBar } from "./KeyBar";
import { PartPlane } from "./PartPlane";
import { Plane } from "./Plane";

/** Keys and curves of the chosen channel, its taps in the beads' colours. */
export function CurvePanel() {
  const part = useChosenPart();
  const channel = useChosenChannel();
  const layer = useChosenLayer();
  const id = channel && keyedId(channel, layer);
  const curve = channel && keyedCurve(channel, layer);
  // The lanes keep their place whatever is chosen: made anew they would cost more than all beside them.
  return (
    <>
      <KeyBar shown={part && channel && id ? { part, channel, id, curve: curve ?? null } : null} />
      <Lanes />
      {part && channel && id && <Plane key={`${part.id}/${id}`} part={part} channel={channel} id={id} curve={curve ?? null} />}
      {part && !channel && <PartPlane />}
      {!part && (
        <p style={{ padding: "8px 16px", color: ink.quiet }}>
          Choose a channel to see its keys, and its curve at each tap.
        </p>
      )}
    </>
  );
}
