import type { ChannelView, OneEdit } from "../../api/client";
import { holdForStop } from "../../state/posing";
import { addTryOuts, chosenLayer, keyedCurve, keyedId, onlyTries, valuesEdit } from "../../state/keying";

/** Channels of the same name, of one part or of several that are chosen together. */
export type Alike = [part: string, channel: ChannelView][];

/** The edit that gives channels a value by hand on this frame. */
export function valueEdit(alike: Alike, frame: number, value: number): OneEdit {
  return valuesEdit(frame, alike.map(([part, { id }]) => [part, id, value]));
}

/** Gives channels a value by hand: held for the stop that is being posed, as try-outs while changes
 * are only tried, else saved. */
export function giveValue(
  edit: (...edits: OneEdit[]) => Promise<boolean>,
  alike: Alike,
  frame: number,
  value: number,
) {
  const given = alike.filter(([part, { id }]) => !holdForStop(part, id, value));
  if (!given.length) return;
  if (onlyTries()) addTryOuts(given.map(([part, { id: channel }]) => ({ part, channel, frame, value })));
  else void edit(valueEdit(given, frame, value));
}

/** The edit that keys channels on this frame, or where all have a key takes these away. */
export function keyEdit(alike: Alike, frame: number): OneEdit {
  const layer = chosenLayer();
  const all = alike.every(([, channel]) => keyedCurve(channel, layer)?.keys.some((key) => key.frame === frame));
  if (all) {
    return { do: "delete keys", picks: alike.map(([part, channel]) => ({ part, channel: keyedId(channel, layer), frames: [frame] })) };
  }
  return { do: "key channels", frame, channels: alike.map(([part, { id }]) => [part, id]), layer };
}
