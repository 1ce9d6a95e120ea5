import type { Limb, PartView } from "../api/client";

/** All parts that people have in hand when they work with a limb: its chain, pole and toes, what carries
 * its channels, its goal, and the control above a goal that is a helper. */
export function limbParts(limb: Limb, parts: Record<string, PartView>): string[] {
  const found = [limb.part, ...(limb.chain ?? []), ...(limb.pole ? [limb.pole] : []), ...(limb.toes ?? []).map(([toe]) => toe)];
  for (let one: string | null | undefined = limb.goal; one; one = parts[one]?.parent) {
    found.push(one);
    if (parts[one]?.role === "control") break;
  }
  return found;
}

/** Whether a limb has to do with any of these parts. */
export function isNear(limb: Limb, parts: Record<string, PartView>, chosen: string[]): boolean {
  return limbParts(limb, parts).some((id) => chosen.includes(id));
}
