import type { Curve, PartView } from "../../api/client";
import type { KeyPick } from "../../state/selection";

/** A tint that some keys have, and these. */
export interface FoundTint {
  word: string;
  colour: string;
  count: number;
  picks: KeyPick[];
}

/** All tints of a scene's keys by their words, each with the keys that have it, on channels and layers. */
export function tintsOf(parts: Record<string, PartView>): FoundTint[] {
  const found = new Map<string, FoundTint>();
  for (const part of Object.values(parts)) {
    for (const channel of part.channels) {
      if (channel.curve) collect(found, part.id, channel.id, channel.curve);
      for (const [layer, curve] of Object.entries(channel.on_layers)) collect(found, part.id, `${layer}:${channel.id}`, curve);
    }
  }
  return [...found.values()].sort((a, b) => a.word.localeCompare(b.word));
}

function collect(found: Map<string, FoundTint>, part: string, channel: string, curve: Curve) {
  for (const { frame, tint } of curve.keys) {
    if (!tint) continue;
    const one = found.get(tint.word) ?? { ...tint, count: 0, picks: [] };
    found.set(tint.word, one);
    one.count += 1;
    const last = one.picks.at(-1);
    if (last?.part === part && last.channel === channel) last.frames.push(frame);
    else one.picks.push({ part, channel, frames: [frame] });
  }
}
