import type { Object3D } from "three";
import { Color, Mesh, MeshLambertMaterial } from "three";

import type { ChannelView } from "../api/client";
import { usePlayer } from "../state/player";
import { useSamples, valueAt } from "../state/samples";
import { stripPeriod } from "./Belt";

/** The channels of a part that show something on its shape. */
export function shownChannels(channels: ChannelView[]): ChannelView[] {
  return channels.filter(({ shows }) => shows !== "nothing");
}

/** Gives a shape the colour, light, opacity and strip offset of its part's channels at the playhead. */
export function applyLook(shape: Object3D, part: string, channels: ChannelView[], colour: string) {
  const { blocks, first } = useSamples.getState();
  const { frame } = usePlayer.getState();
  const now = new Map<string, number>();
  for (const { id, shows } of channels) {
    const value = valueAt(blocks[`${part}/${id}/final`], frame, first);
    if (value !== undefined) now.set(shows, value);
  }
  const plain = new Color(colour);
  const share = (name: string, other: number) => Math.min(Math.max(now.get(name) ?? other, 0), 1);
  const paint = new Color(share("red", plain.r), share("green", plain.g), share("blue", plain.b));
  shape.traverse((one) => {
    if (!(one instanceof Mesh) || !(one.material instanceof MeshLambertMaterial)) return;
    const material = one.material;
    material.color.copy(paint);
    material.emissive.copy(paint).multiplyScalar(share("brightness", 0));
    material.opacity = share("opacity", 1);
    material.transparent = material.opacity < 1;
    if (material.map) material.map.offset.x = -(now.get("strip offset") ?? 0) / stripPeriod;
  });
}
