import type { Limb, PartView } from "../api/client";

type Parts = Record<string, PartView>;

/** A limb's goal, and what is above it up to the control by which people move it. */
function goalAndAbove(limb: Limb, parts: Parts): string[] {
  const found: string[] = [];
  for (let one: string | null | undefined = limb.goal; one; one = parts[one]?.parent) {
    found.push(one);
    if (parts[one]?.role === "control") break;
  }
  return found;
}

/** All parts that people have in hand when they work with a limb: its chain, pole and toes, what carries
 * its channels, its goal, and the control above a goal that is a helper. */
export function limbParts(limb: Limb, parts: Parts): string[] {
  return [limb.part, ...(limb.chain ?? []), ...(limb.pole ? [limb.pole] : []), ...(limb.toes ?? []).map(([toe]) => toe), ...goalAndAbove(limb, parts)];
}

/** The parts that make a limb move: its chain, the control of its goal, and its pole. */
export function limbHands(limb: Limb, parts: Parts): string[] {
  return [...(limb.chain ?? []), ...goalAndAbove(limb, parts).slice(-1), ...(limb.pole ? [limb.pole] : [])];
}

/** Whether a limb has to do with any of these parts. */
export function isNear(limb: Limb, parts: Parts, chosen: string[]): boolean {
  return limbParts(limb, parts).some((id) => chosen.includes(id));
}
