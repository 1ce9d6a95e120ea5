import { postForBinary } from "../api/client";
import { useOpenScene } from "../state/openScene";
import { headerOf, unpacked } from "../state/samples";
import { worldAt, worldName } from "../view/world";
import { tellOverTime } from "./receiver";

/** Tells an input what a channel of the scene does, from the scene's first frame on. */
export async function recordChannel(input: string, part: string, channel: string) {
  const { block, seconds } = await numbersOf(part, channel);
  const at = (row: number) => block?.data[block.frames > 1 ? row : 0] ?? 0;
  tellOverTime({ [input]: rows(seconds, at) });
}

/** Tells a place where a part of the scene goes. */
export async function recordPlace(place: string, part: string) {
  const { block, seconds } = await numbersOf(part, "world matrix");
  const at = (axis: number) => (row: number) => worldAt(block, row, 0)?.[4 * axis + 3] ?? 0;
  tellOverTime({ [`${place}.x`]: rows(seconds, at(0)), [`${place}.y`]: rows(seconds, at(1)), [`${place}.z`]: rows(seconds, at(2)) });
}

/** Final numbers of the scene as it is stored, and the seconds of its frames. */
async function numbersOf(part: string, quantity: string) {
  const { sceneId, header } = useOpenScene.getState();
  const buffer = await postForBinary(`/api/scenes/${String(sceneId)}/samples`, { wants: [{ part, quantity, stage: "final" }] });
  const { first, last } = headerOf(buffer);
  const seconds = Array.from({ length: last - first + 1 }, (_, n) => n / header.fps);
  return { block: unpacked(buffer).blocks[quantity === "world matrix" ? worldName(part) : `${part}/${quantity}/final`], seconds };
}

/** A value for each frame on which it changes. */
export function rows(seconds: number[], at: (row: number) => number): [number, number][] {
  return seconds.map((time, row): [number, number] => [time, at(row)]).filter(([, value], row) => row === 0 || value !== at(row - 1));
}
