import { replaceEqualDeep } from "@tanstack/react-query";

import type { OneEdit, PartView, SceneHeader } from "../api/client";

/** What of the open scene an edit may carry as a whole. */
interface Seen {
  header: SceneHeader;
  parts: Record<string, PartView>;
}

type Plain = Record<string, unknown>;
type Kind = NonNullable<OneEdit["do"]>;

const listed = (list: keyof SceneHeader) => ({ id }: Plain, { header }: Seen) => (header[list] as { id: string }[]).find((one) => one.id === id);

/** The thing that an edit gives anew, or parts of it as wholes: a vector, a list, settings. */
const things: Partial<Record<Kind, (edit: Plain, scene: Seen) => object | undefined>> = {
  "change part": ({ part }, { parts }) => parts[String(part)],
  "change channel": ({ part, channel }, { parts }) => parts[String(part)]?.channels.find(({ id }) => id === channel),
  "change step": ({ step }, { parts }) => Object.values(parts).flatMap(({ steps }) => steps).find(({ id }) => id === step),
  "put set": listed("sets"),
  "put marker": listed("markers"),
  "put probe": listed("probes"),
  "put lead group": listed("leads"),
  "put limb": listed("limbs"),
  "put gait": listed("gaits"),
  "put reference": listed("references"),
  "set units": (_, { header }) => header.units,
  "change deform": ({ surface, step }, { header }) => header.surfaces.find(({ id }) => id === surface)?.steps.find(({ id }) => id === step),
};

/**
 * An edit is made from the scene as it is seen. Where others have been stored since, one that gives a
 * whole thing would take them back: what it changes is put onto the thing as it is now.
 */
export function rebased(edit: OneEdit, seen: Seen, now: Seen): OneEdit {
  const thing = edit.do && things[edit.do];
  const before = thing?.(edit, seen) as Plain | undefined;
  const after = thing?.(edit, now) as Plain | undefined;
  if (!before || !after || before === after) return edit;
  const made = Object.entries(edit).map(([key, wanted]): [string, unknown] => [key, key in before && key in after ? merged(before[key], wanted, after[key]) : wanted]);
  return Object.fromEntries(made) as OneEdit;
}

const same = (a: unknown, b: unknown) => Object.is(replaceEqualDeep(a, b), a);
const isPlain = (value: unknown): value is Plain => typeof value === "object" && value !== null && !Array.isArray(value);

/** What somebody wanted of a value that they saw before, on the value as it is now. */
export function merged(before: unknown, wanted: unknown, now: unknown): unknown {
  if (same(before, wanted)) return now;
  if (same(before, now)) return wanted;
  // Switched twice before the first answer came: it is as it was.
  if (typeof before === "boolean" && wanted === now) return before;
  if (Array.isArray(before) && Array.isArray(wanted) && Array.isArray(now) && before.length === wanted.length && before.length === now.length) {
    return wanted.map((one: unknown, n) => merged(before[n], one, now[n]));
  }
  if (isPlain(before) && isPlain(wanted) && isPlain(now)) {
    const keys = [...new Set([...Object.keys(now), ...Object.keys(wanted)])].filter((key) => key in wanted || !(key in before));
    return Object.fromEntries(keys.map((key) => [key, key in wanted ? merged(before[key], wanted[key], now[key]) : now[key]]));
  }
  return wanted;
}
