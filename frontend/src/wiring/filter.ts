import type { CardView, PortView, WireView } from "../state/order";
import { counted } from "../shared/format";

export type Reach = "feeds" | "fed by" | "both" | "everything";

/** What of the wiring is shown. */
export interface Choice {
  reach: Reach;
  /** The part that it is about. */
  part: string | null;
  /** How many reads far; null: all the way. */
  steps: number | null;
}

export interface Picture {
  cards: CardView[];
  wires: WireView[];
}

/** The cards that feed a part, or are fed by it, within so many reads; all wires between them. */
export function filtered(whole: Picture, choice: Choice): Picture {
  if (choice.reach === "everything" || choice.part === null) return whole;
  const start = whole.cards.filter(({ part }) => part === choice.part).map(({ id }) => id);
  const found = new Set(start);
  if (choice.reach !== "fed by") walk(whole.wires, start, choice.steps, "back", found);
  if (choice.reach !== "feeds") walk(whole.wires, start, choice.steps, "forth", found);
  return {
    cards: whole.cards.filter(({ id }) => found.has(id)),
    wires: whole.wires.filter((wire) => found.has(wire.source_card) && found.has(wire.target_card)),
  };
}

function walk(wires: WireView[], start: string[], steps: number | null, way: "back" | "forth", found: Set<string>) {
  const [from, to] = way === "back" ? (["target_card", "source_card"] as const) : (["source_card", "target_card"] as const);
  const next = new Map<string, string[]>();
  for (const wire of wires) next.set(wire[from], [...(next.get(wire[from]) ?? []), wire[to]]);
  const seen = new Set(start);
  let now = start;
  for (let n = 0; now.length && (steps === null || n < steps); n += 1) {
    now = [...new Set(now.flatMap((card) => next.get(card) ?? []))].filter((card) => !seen.has(card));
    for (const card of now) {
      seen.add(card);
      found.add(card);
    }
  }
}

/** The picture with some subtrees drawn as one card each. */
export function folded(picture: Picture, parents: Record<string, string | null>, tops: string[]): Picture {
  if (!tops.length) return picture;
  const top = (part: string): string | null => {
    let found: string | null = null;
    for (let at: string | null | undefined = part; at; at = parents[at]) if (tops.includes(at)) found = at;
    return found;
  };
  const home = new Map<string, string>();
  const inside = new Map<string, CardView[]>();
  for (const card of picture.cards) {
    const at = top(card.part);
    home.set(card.id, at ? `${at}/folded` : card.id);
    if (at) inside.set(at, [...(inside.get(at) ?? []), card]);
  }
  const cards = picture.cards.filter((card) => home.get(card.id) === card.id);
  for (const [part, hidden] of inside) cards.push(foldedCard(part, hidden));
  const wires = new Map<string, WireView>();
  for (const wire of picture.wires) {
    const [source, target] = [home.get(wire.source_card) ?? "", home.get(wire.target_card) ?? ""];
    if (source === target && source.endsWith("/folded")) continue;
    const made = {
      ...wire,
      source_card: source,
      target_card: target,
      source: source.endsWith("/folded") ? source : wire.source,
      target: target.endsWith("/folded") ? target : wire.target,
    };
    wires.set(`${made.source} ${made.target} ${made.tap}`, made);
  }
  return { cards, wires: [...wires.values()] };
}

function foldedCard(part: string, hidden: CardView[]): CardView {
  const parts = new Set(hidden.map((card) => card.part)).size;
  const port: PortView = {
    id: `${part}/folded`,
    side: "step",
    label: `${counted(parts, "part")} inside`,
    part,
    channel: "translation.x",
    tap: "final",
    step: null,
    on: true,
    held: hidden.some(({ ports }) => ports.some(({ held }) => held)),
  };
  return { id: `${part}/folded`, part, column: Math.min(...hidden.map(({ column }) => column)), ports: [port], kind: "part" };
}
