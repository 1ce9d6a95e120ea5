import type { ChannelView, Curve, PartView } from "../../api/client";
import type { KeyPick } from "../../state/selection";

/** A lane: the keys of one curve. */
export interface LaneRow {
  part: string;
  /** The channel, or its curve on a layer. */
  channel: string;
  name: string;
  /** The name without the part's. */
  short: string;
  curve: Curve;
}

/** A line of the lanes: the name of a part, over the lanes of that part. */
export interface PartHead {
  part: string;
  head: string;
}

export type LaneLine = LaneRow | PartHead;

export function isHead(line: LaneLine): line is PartHead {
  return "head" in line;
}

/** The lanes of some parts: each channel's own keys, then those on layers; where there are several
 * parts, each under its name. */
export function linesOf(
  parts: (PartView | undefined)[],
  layers: { id: string; name: string }[],
  search: string,
): LaneLine[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const groups = parts.flatMap((part) => {
    const rows = part ? rowsOf(part, layers).filter(({ name }) => words.every((word) => name.toLowerCase().includes(word))) : [];
    return part && rows.length ? [{ head: part.name, part: part.id, rows }] : [];
  });
  if (groups.length < 2) return groups.flatMap(({ rows }) => rows);
  return groups.flatMap(({ rows, ...head }): LaneLine[] => [head, ...rows]);
}

function rowsOf(part: PartView, layers: { id: string; name: string }[]): LaneRow[] {
  return part.channels.flatMap((channel) =>
    curvesOf(channel, layers).map(([id, name, curve]) => ({
      part: part.id,
      channel: id,
      name: `${part.name}.${name}`,
      short: name.replace("translation.", "trans.").replace("rotation.", "rot."),
      curve,
    })),
  );
}

function curvesOf(channel: ChannelView, layers: { id: string; name: string }[]) {
  const found: [string, string, Curve][] = [];
  if (channel.curve) found.push([channel.id, channel.name, channel.curve]);
  for (const { id, name } of layers) {
    const curve = channel.on_layers[id];
    if (curve) found.push([`${id}:${channel.id}`, `${channel.name} on ${name}`, curve]);
  }
  return found;
}

/** All keys of these lanes. */
export function allPicks(lines: LaneLine[]): KeyPick[] {
  return lines.flatMap((line) =>
    isHead(line) ? [] : [{ part: line.part, channel: line.channel, frames: line.curve.keys.map(({ frame }) => frame) }],
  );
}
