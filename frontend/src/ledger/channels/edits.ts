import type { ChannelView, OneEdit } from "../../api/client";
import { holdForStop } from "../../state/posing";
import { addTryOut, chosenLayer, isTried, keyedCurve, valuesEdit } from "../../state/keying";

/** The edit that gives a channel a value by hand on this frame. */
export function valueEdit(part: string, channel: ChannelView, frame: number, value: number): OneEdit {
  return valuesEdit(frame, [[part, channel.id, value]]);
}

/** Gives a channel a value by hand: held for the stop that is being posed, as a try-out where keys
 * are not made by themselves, else saved. */
export function giveValue(
  edit: (...edits: OneEdit[]) => Promise<boolean>,
  part: string,
  channel: ChannelView,
  frame: number,
  value: number,
) {
  if (holdForStop(part, channel.id, value)) return;
  if (isTried(channel)) addTryOut({ part, channel: channel.id, frame, value });
  else void edit(valueEdit(part, channel, frame, value));
}

/** The edit that puts a dot on this frame, or takes it away where there is one. */
export function dotEdit(part: string, channel: ChannelView, frame: number): OneEdit {
  const layer = chosenLayer();
  const here = keyedCurve(channel, layer)?.keys.some((key) => key.frame === frame);
  const id = layer === null ? channel.id : `${layer}:${channel.id}`;
  if (here) return { do: "delete keys", picks: [{ part, channel: id, frames: [frame] }] };
  return { do: "key channels", frame, channels: [[part, channel.id]], layer };
}
