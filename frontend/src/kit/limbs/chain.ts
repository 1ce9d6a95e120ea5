import type { PartView } from "../../api/client";

type Parts = Record<string, PartView>;

/** The parts from one up to another, the upper one first; null where that is not above it. */
function line(parts: Parts, above: string, below: string): string[] | null {
  const found: string[] = [];
  for (let one: string | null | undefined = below; one; one = parts[one]?.parent) {
    found.push(one);
    if (one === above) return found.reverse();
  }
  return null;
}

/** The chain that chosen parts stand for: the parts themselves from the highest to the lowest, or, of
 * two, all from one down to the other. Null where they are not below each other. */
export function chainOf(parts: Parts, chosen: string[]): string[] | null {
  const depth = (id: string): number => (parts[id]?.parent ? 1 + depth(parts[id].parent) : 0);
  const sorted = chosen.filter((id) => parts[id]).sort((a, b) => depth(a) - depth(b));
  const [top, low] = [sorted[0], sorted.at(-1)];
  if (!top || !low || top === low) return null;
  const whole = line(parts, top, low);
  if (!whole || !sorted.every((id) => whole.includes(id))) return null;
  const chain = sorted.length === 2 ? whole : sorted;
  return chain.length > 2 ? chain : null;
}

/** A name for a limb: the words that say its side, and arm or leg by what its parts are called. */
export function limbName(parts: Parts, chain: string[]): string {
  const names = chain.map((id) => parts[id]?.name ?? "");
  const all = names.join(" ").toLowerCase();
  const side = /\b(left|right)\b/.exec(all)?.[1];
  const what = /hip|knee|ankle|thigh|shin|leg/.test(all) ? "leg" : /shoulder|elbow|wrist|arm/.test(all) ? "arm" : "limb";
  return side ? `${side} ${what}` : what;
}
