import type { OneEdit } from "../api/client";
import { addTryOuts, chosenLayer, onlyTries, useKeyState } from "../state/keying";
import { leadEdits } from "../state/leading";
import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { chosenSet, holdForStop, usePosing } from "../state/posing";
import { feed, useSamples, valueAt } from "../state/samples";
import { useSelection } from "../state/selection";
import { useShowing } from "../state/showing";

export type Vector = [number, number, number];
export type Place = Extract<OneEdit, { do?: "place part" }>;

/** The edit that moves, turns or scales the chosen parts by hand. */
export function placeEdit(what: { move?: Vector; turn?: Vector; size?: Vector }): Place {
  return {
    do: "place part",
    parts: useSelection.getState().parts,
    frame: usePlayer.getState().frame,
    axes: useShowing.getState().axes,
    layer: chosenLayer(),
    key: useKeyState.getState().autoKey === "always",
    ...what,
  };
}

/** Brings in a move by hand: held for the stop that is being posed, as try-outs while changes are
 * only tried, else saved. Resolves to whether it was taken. */
export async function givePlace(edit: (...edits: OneEdit[]) => Promise<boolean>, made: Place): Promise<boolean> {
  const rows = usePosing.getState().stop === null ? [] : (chosenSet()?.rows ?? []);
  const posed = rows.filter(({ part }) => made.parts.includes(part)).map(({ part, channel }): Ref => [part, channel]);
  if (posed.length) {
    for (const [part, channel, value] of await triedValues(made, posed, "driven")) holdForStop(part, channel, value);
    return true;
  }
  if (!onlyTries()) return edit(...leadEdits(made.parts, made.frame), made);
  const tried = made.parts.flatMap(placeChannels);
  const before = await triedValues(null, tried, "keyed");
  const after = await triedValues(made, tried, "keyed");
  const moved = after.filter(([, , value], n) => Math.abs(value - (before[n]?.[2] ?? value)) > 1e-6);
  addTryOuts(moved.map(([part, channel, value]) => ({ part, channel, frame: made.frame, value })));
  return true;
}

type Ref = [string, string];

/** The channels of a part that say its place. */
function placeChannels(part: string): Ref[] {
  const channels = useOpenScene.getState().parts[part]?.channels ?? [];
  return channels.filter(({ id }) => /^(translation|rotation|scale)\./.test(id)).map(({ id }): Ref => [part, id]);
}

/** What the server comes to for these channels, with an edit that is only tried or without. */
async function triedValues(made: Place | null, refs: Ref[], tap: string): Promise<[string, string, number][]> {
  const end = feed.want(refs.map(([part, channel]) => `${part}/${channel}/${tap}`));
  feed.tryOut(made ? [made] : []);
  await feed.settled();
  const { blocks, first } = useSamples.getState();
  const { frame } = usePlayer.getState();
  feed.tryOut([]);
  end();
  return refs.flatMap(([part, channel]): [string, string, number][] => {
    const value = valueAt(blocks[`${part}/${channel}/${tap}`], frame, first);
    return value === undefined ? [] : [[part, channel, Number(value.toPrecision(7))]];
  });
}
