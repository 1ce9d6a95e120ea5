import type { ChannelView, OneEdit } from "../../api/client";

/** The edit that gives a channel a value by hand: a key on this frame where it has keys. */
export function valueEdit(
  part: string,
  channel: ChannelView,
  frame: number,
  value: number,
): OneEdit {
  const where = { part, channel: channel.id };
  if (!channel.curve) return { do: "set value", ...where, value };
  const key = channel.curve.keys.find((one) => one.frame === frame);
  if (key) return { do: "change keys", ...where, changes: [{ frame, value }] };
  const before = channel.curve.keys.findLast((one) => one.frame < frame);
  const interpolation = before?.interpolation ?? "smooth";
  return { do: "put keys", ...where, keys: [{ frame, value, interpolation }] };
}

/** The edit that puts a dot on this frame, or takes it away where there is one. */
export function dotEdit(part: string, channel: ChannelView, frame: number): OneEdit {
  const where = { part, channel: channel.id };
  const here = channel.curve?.keys.some((key) => key.frame === frame);
  if (here) return { do: "remove keys", ...where, frames: [frame] };
  return { do: "insert key", ...where, frame };
}
