import type { ChannelView, Curve, PartView } from "../../api/client";

/** A lane: the keys of one curve. */
export interface LaneRow {
  part: string;
  /** The channel, or its curve on a layer. */
  channel: string;
  name: string;
  /** The name as far as there is room: without the part where all lanes are of one part. */
  short: string;
  curve: Curve;
}

const room = 17;

/** The lanes of some parts: each channel's own keys, then those on layers. */
export function rowsOf(
  parts: (PartView | undefined)[],
  layers: { id: string; name: string }[],
  search: string,
): LaneRow[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const rows: LaneRow[] = [];
  for (const part of parts) {
    for (const channel of part?.channels ?? []) {
      for (const [id, name, curve] of curvesOf(channel, layers)) {
        const full = `${part?.name ?? ""}.${name}`;
        if (words.every((word) => full.toLowerCase().includes(word))) {
          rows.push({ part: part?.id ?? "", channel: id, name: full, short: name, curve });
        }
      }
    }
  }
  const one = new Set(rows.map(({ part }) => part)).size < 2;
  return rows.map((row) => ({ ...row, short: shortened(one ? row.short : row.name) }));
}

/** A name cut so that part and channel can both be told. */
function shortened(name: string): string {
  const brief = name.replace("translation.", "trans.").replace("rotation.", "rot.");
  if (brief.length <= room) return brief;
  const channel = /[^.]*\.?[^.]*$/.exec(brief)?.[0] ?? "";
  const part = brief.slice(0, brief.length - channel.length);
  const left = room - 1 - channel.length;
  return part && left > 2 ? `${part.slice(0, left)}…${channel}` : `${brief.slice(0, room - 1)}…`;
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
