import type { OneEdit } from "../../api/client";
import { counted } from "../../shared/format";
import { channelsInScope, chosenLayer, keyedCurve, keyedId } from "../../state/keying";
import { unitIn, useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import type { KeyPick } from "../../state/selection";
import { chooseKeys, useSelection } from "../../state/selection";
import { typed } from "../../shared/arithmetic";
import { inUnits, lookOf, meant } from "../../shared/units";

type Edit = (...edits: OneEdit[]) => Promise<boolean>;

export interface KeyCommand {
  name: string;
  section: "tangents" | "shape" | "time";
  hint: string;
  run: () => void;
}

/** The chosen keys; where none is, all keys of the channels in the key scope. */
export function chosenPicks(): { part: string; channel: string; frames: number[] | null }[] {
  const { keys } = useSelection.getState();
  if (keys.length) return keys;
  const layer = chosenLayer();
  const { parts } = useOpenScene.getState();
  return channelsInScope().flatMap(([part, id]) => {
    const channel = parts[part]?.channels.find((one) => one.id === id);
    if (!channel || !keyedCurve(channel, layer)) return [];
    return [{ part, channel: keyedId(channel, layer), frames: null }];
  });
}

/** Deletes the chosen keys; where that is refused they are chosen again. */
export function deleteKeys(edit: Edit) {
  const { keys } = useSelection.getState();
  if (!keys.length) return;
  chooseKeys([]);
  void edit({ do: "delete keys", picks: keys }).then((stored) => { if (!stored && !useSelection.getState().keys.length) chooseKeys(keys); });
}

/** How values of keys are looked at: in their unit where they have one in common, else as they are. */
export function pickedLook(picks: { part: string; channel: string }[]) {
  const { parts } = useOpenScene.getState();
  const found = new Set(picks.map(({ part, channel }) => unitIn(parts, part, channel)));
  return lookOf(found.size === 1 ? ([...found][0] ?? "") : "");
}

/** A value that was typed for keys; 0 where it is none. */
export function valueForKeys(text: string, picks: { part: string; channel: string }[]): number | undefined {
  const look = pickedLook(picks);
  const number = typed(inUnits(text, look), 0);
  return number === undefined ? undefined : meant(number, look);
}

/** What the commands work on, in words: the chosen keys, or those of the key scope. */
export function pickedWords(): string {
  const chosen = useSelection.getState().keys.length > 0;
  const { parts } = useOpenScene.getState();
  const count = chosenPicks().reduce((sum, { part, channel, frames }) => {
    if (frames) return sum + frames.length;
    const [layer, id] = channel.includes(":") ? channel.split(":") : [null, channel];
    const found = parts[part]?.channels.find((one) => one.id === id);
    return sum + (found ? (keyedCurve(found, layer ?? null)?.keys.length ?? 0) : 0);
  }, 0);
  const keys = counted(count, "key");
  return chosen ? keys : count ? `${keys} of the key scope` : "no keys: choose some, or a key scope that has some";
}

/** First and last frame of what the commands work on. */
export function spanOf(picks: ReturnType<typeof chosenPicks>): [number, number] {
  const { parts, header } = useOpenScene.getState();
  const frames = picks.flatMap(({ part, channel, frames: some }) => {
    if (some) return some;
    const [layer, id] = channel.includes(":") ? channel.split(":") : [null, channel];
    const found = parts[part]?.channels.find((one) => one.id === id);
    return found ? (keyedCurve(found, layer ?? null)?.keys.map((key) => key.frame) ?? []) : [];
  });
  return frames.length ? [Math.min(...frames), Math.max(...frames)] : [header.first, header.last];
}

/** Commands on the chosen keys that need no further number. */
export function keyCommands(edit: Edit): KeyCommand[] {
  return [...tangentCommands(edit), ...shapeCommands(edit), ...timeCommands(edit)];
}

const tangents = {
  join: "Both handles on one line",
  break: "Each handle by itself",
  flat: "Both handles level",
  linear: "Handles toward the neighbours",
  smart: "Handles follow the neighbours and never overshoot",
};

function tangentCommands(edit: Edit): KeyCommand[] {
  return Object.entries(tangents).map(([change, hint]) => ({
    name: `Tangents: ${change}`,
    section: "tangents",
    hint,
    run: () => void edit({ do: "set tangents", picks: chosenPicks(), change: change as keyof typeof tangents }),
  }));
}

function shapeCommands(edit: Edit): KeyCommand[] {
  const meet = (values: boolean): KeyCommand => ({
    name: values ? "Make the ends meet" : "Make the ends meet in slope only",
    section: "shape",
    hint: "So that the curve repeats without a jump",
    run: () => void edit({ do: "meet ends", picks: chosenPicks(), values }),
  });
  return [
    {
      name: "Block in holds",
      section: "shape",
      hint: "Every chosen key holds its value until the next",
      run: () => void edit({ do: "set interpolation", picks: chosenPicks(), interpolation: "hold" }),
    },
    {
      name: "Smooth the holds",
      section: "shape",
      hint: "From holds to smooth, tangents guessed anew",
      run: () => void edit({ do: "set interpolation", picks: chosenPicks(), interpolation: "smooth", smart: true }),
    },
    meet(true),
    meet(false),
  ];
}

function timeCommands(edit: Edit): KeyCommand[] {
  const nudge = (frames: 1 | -1): KeyCommand => ({
    name: `Nudge a frame ${frames < 0 ? "earlier" : "later"}`,
    section: "time",
    hint: "Moves the chosen keys by one frame",
    run: () => void edit({ do: "move keys", picks: chosenPicks(), frames }),
  });
  return [
    {
      name: "Share keys",
      section: "time",
      hint: "All these channels get keys on the frames where any has one; no curve changes its shape",
      run: () => void edit({ do: "share keys", picks: chosenPicks() }),
    },
    {
      name: "Snap to whole frames",
      section: "time",
      hint: "Puts chosen keys on the nearest whole frames",
      run: () => void edit({ do: "snap keys", picks: chosenPicks() }),
    },
    {
      name: "Reverse in time",
      section: "time",
      hint: "The chosen keys run backwards over their own span",
      run: () => {
        const picks = chosenPicks();
        const [first, last] = spanOf(picks);
        void edit({ do: "scale time", picks, about: (first + last) / 2, factor: -1 });
      },
    },
    nudge(-1),
    nudge(1),
    {
      name: "Copy keys to the playhead",
      section: "time",
      hint: "The first of the chosen keys lands on the playhead",
      run: () => {
        const picks = chosenPicks();
        const frames = usePlayer.getState().frame - spanOf(picks)[0];
        void edit({ do: "move keys", picks, frames, copy: true });
      },
    },
  ];
}

/** Picks with their frames moved. */
export function movedPicks(picks: KeyPick[], by: number): KeyPick[] {
  return picks.map((pick) => ({ ...pick, frames: pick.frames.map((frame) => frame + by) }));
}
