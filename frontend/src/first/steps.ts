import type { PartView } from "../api/client";

/** What the steps look at. */
export interface Seen {
  parts: PartView[];
  frame: number;
  playing: boolean;
  /** The chosen channel, as `part/channel` by identities. */
  chosen: string | null;
  /** Whether something that was undone can be done again. */
  undone: boolean;
}

export interface Step {
  say: string;
  /** The control that it is about, for a person to find it. */
  at: string;
  done: (seen: Seen) => boolean;
}

const along = "translation.x";
const around = "rotation.z";

function keysOf(part: PartView, channel: string) {
  return part.channels.find(({ id }) => id === channel)?.curve?.keys ?? [];
}

/** Whether somebody gave it a name. */
function isNamed(part: PartView | undefined): boolean {
  return part !== undefined && !/^part \d+$/.test(part.name);
}

/** The part that goes along x by keys. */
export function cart({ parts }: Seen): PartView | undefined {
  return parts.find((part) => new Set(keysOf(part, along).map(({ value }) => value)).size > 1);
}

/** The part that is carried by it. */
function wheel(seen: Seen): PartView | undefined {
  const above = cart(seen);
  return seen.parts.find(({ parent }) => above !== undefined && parent === above.id);
}

function isDriven(part: PartView | undefined): boolean {
  return part?.steps.some(({ settings }) => "text" in settings && settings.text.includes("travelled(")) ?? false;
}

/** From an empty scene to a wheel that turns by the way it has gone. `{cart}` stands for whatever the cart
 * is called, `[play]` for the keys of that command. */
export const steps: Step[] = [
  { say: "A scene is made of parts. Add one with +, type its name, cart, and press Enter.", at: "[aria-label='Add a part']", done: ({ parts }) => parts.some(isNamed) },
  { say: "Choose its translation x in the list of channels.", at: "[role=group][aria-label='Channels'] button[aria-label$='.translation.x']", done: ({ chosen }) => chosen?.endsWith(`/${along}`) ?? false },
  { say: "On frame 0, press [key]: a key holds the value there.", at: "[aria-label$=': the key scope']", done: ({ parts }) => parts.some((part) => keysOf(part, along).length > 0) },
  { say: "Go to another frame: type 60 into the field of the frame, and Enter.", at: "[aria-label='Frame']", done: ({ frame }) => frame > 0 },
  { say: "Type 3 into translation x, and Enter. A channel that has keys gets a key: the curve shows the way between.", at: "input[aria-label$='.translation.x']", done: (seen) => cart(seen) !== undefined },
  { say: "Add a part that the cart carries: with the cart chosen, press + again and call it wheel.", at: "[aria-label='Add a part']", done: (seen) => isNamed(wheel(seen)) },
  { say: "Choose the wheel’s rotation z.", at: "[role=group][aria-label='Channels'] button[aria-label$='.rotation.z']", done: (seen) => seen.chosen === `${wheel(seen)?.id ?? ""}/${around}` },
  { say: "Under Driven in the ledger, press + formula and type -degrees(travelled({cart}) / 0.5): the way the cart has gone, over the radius. Enter.", at: "section[aria-label='driven'] button", done: (seen) => isDriven(wheel(seen)) },
  { say: "Play with [play]. The wheel turns by the way that the cart has gone, whatever you change of it.", at: "[aria-label='Play']", done: ({ playing }) => playing },
  { say: "Undo with [undo]; the ledger tells what is left. [redo] does it again.", at: "[data-undo]", done: ({ undone }) => undone },
];
