import { gaits } from "./gaits/kind";
import type { KitKind } from "./kind";
import { layers } from "./layers/kind";
import { leadGroups } from "./leads/kind";
import { limbs } from "./limbs/kind";
import { plants } from "./plants/kind";
import { rules } from "./rules/kind";
import { sets } from "./sets/kind";
import { probes } from "./slip/kind";
import { surfaces } from "./surfaces/kind";

/** The kinds of things of a rig, in the order of the list. */
export const kinds: readonly KitKind[] = [sets, layers, limbs, leadGroups, gaits, plants, surfaces, probes, rules];
