import type { Tap } from "./taps";
import { ink } from "./theme";

/** Each tap's one colour. */
export const tapColour: Record<Tap, string> = ink.taps;

/** The same where it is text, strong enough to read. */
export const tapInk: Record<Tap, string> = ink.tapText;
