import type { OneEdit, PartSet } from "../../api/client";

/** The parts that have something in a set. */
export function membersOf(set: PartSet): string[] {
  return [...new Set([...(set.parts ?? []), ...(set.channels ?? []).map(([part]) => part as string)])];
}

/** The edit that changes something of a set; what is not given stays. */
export function setEdit({ id, name, colour, parts, channels }: PartSet, what: Partial<PartSet>): OneEdit {
  return { do: "put set", id, name, colour: colour ?? "#C9A66B", parts: parts ?? [], channels: (channels ?? []) as [string, string][], ...what } as OneEdit;
}
