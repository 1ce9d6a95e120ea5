import type { SurfaceHead } from "../api/client";
import { passes, postForBinary, reason } from "../api/client";
import { AGAIN } from "../api/queryClient";
import { useOpenScene } from "./openScene";
import { usePlayer } from "./player";
import type { Block } from "./samples";
import { feed, headerOf, unpacked, useSamples } from "./samples";

/** A surface on one frame: three numbers a point in the world; with a second order its points and how far
 * both are apart. */
export interface SurfaceShown {
  points: Float32Array;
  other: Float32Array | null;
  apart: Float32Array | null;
  mesh: Mesh;
}

/** Numbers of points: three for a triangle, two for an edge. */
export interface Mesh {
  key: string;
  triangles: Uint32Array;
  edges: Uint32Array;
}

const ahead = 12;

/** Fetches the frames of one surface that are looked at, and while it plays those that come next. */
export class SurfacePoints {
  /** Milliseconds for each step. */
  costs: Record<string, number> = {};
  problem: string | null = null;
  private frames = new Map<number, SurfaceShown>();
  private version = "";
  private last: SurfaceShown | null = null;
  private meshes = new Map<string, Mesh>();
  private busy = false;
  private ended = false;
  private later: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly id: string,
    private readonly arrived: () => void,
  ) {}

  end() {
    this.ended = true;
  }

  /** The surface on a frame; until it has come, as it was last. */
  at(frame: number, surface: SurfaceHead, other: string[] | null): SurfaceShown | null {
    const version = versionOf(surface, other);
    if (version !== this.version) {
      this.version = version;
      this.frames.clear();
      this.problem = null;
    }
    const found = this.frames.get(frame);
    if (found) this.last = found;
    const wanted = this.missing(frame);
    if (wanted.length && !this.busy && this.problem === null) void this.fetch(wanted, version, other);
    return found ?? this.last;
  }

  /** The frames to ask for: this one, and while it plays those ahead once half of them are used up. */
  private missing(frame: number): number[] {
    const { playing } = usePlayer.getState();
    const { first, last } = useSamples.getState();
    const count = Math.max(last - first + 1, 1);
    if (!playing) return this.frames.has(frame) ? [] : [frame];
    const coming = Array.from({ length: Math.min(ahead, count) }, (_, n) => first + ((frame - first + n) % count));
    const missing = coming.filter((one) => !this.frames.has(one));
    return missing.includes(frame) || missing.length > ahead / 2 ? missing : [];
  }

  private async fetch(frames: number[], version: string, other: string[] | null) {
    this.busy = true;
    const scene = useOpenScene.getState().sceneId;
    try {
      const body = { frames, other, trying: feed.allTried(), have: [...this.meshes.keys()].flatMap((key) => [`triangles ${key}`, `edges ${key}`]) };
      const buffer = await postForBinary(`/api/scenes/${String(scene)}/surfaces/${this.id}/points`, body);
      if (!this.ended && version === this.version) this.take(buffer, frames);
    } catch (error) {
      if (version === this.version) this.problem = reason(error);
      clearTimeout(this.later);
      if (passes(error)) this.later = setTimeout(() => { this.tryAgain(); }, AGAIN);
    }
    this.busy = false;
    if (!this.ended) this.arrived();
  }

  private tryAgain() {
    this.problem = null;
    if (!this.ended) this.arrived();
  }

  private take(buffer: ArrayBuffer, frames: number[]) {
    const header = headerOf(buffer) as ReturnType<typeof headerOf> & { costs: Record<string, number> };
    this.costs = header.costs;
    const { blocks } = unpacked(buffer);
    const keyOf = (name: string) => header.blocks.find((block) => block.want === name)?.key.split(" ")[1] ?? "";
    const mesh = this.mesh(keyOf("triangles"), blocks);
    const { points } = blocks;
    if (!points || !mesh) return;
    frames.forEach((frame, n) => {
      const row = (block: Block | undefined) => block?.data.subarray(n * block.width, (n + 1) * block.width) ?? null;
      this.frames.set(frame, { points: row(points) ?? points.data, other: row(blocks["other points"]), apart: row(blocks.apart), mesh });
    });
  }

  private mesh(key: string, blocks: Record<string, Block>): Mesh | undefined {
    const { triangles, edges } = blocks;
    if (triangles && edges) this.meshes.set(key, { key, triangles: Uint32Array.from(triangles.data), edges: Uint32Array.from(edges.data) });
    return this.meshes.get(key);
  }
}

/** What a surface's points depend on: the scene's revision, the places of its part and joints, the numbers
 * of its steps, and what is tried. */
function versionOf(surface: SurfaceHead, other: string[] | null): string {
  const { blocks } = useSamples.getState();
  const keys = surfaceWants(surface).map((name) => blocks[name]?.key ?? "");
  return [useOpenScene.getState().header.revision, other?.join(" ") ?? "", ...keys].join("|");
}

/** The numbers that a surface's points follow from. */
export function surfaceWants(surface: SurfaceHead): string[] {
  const parts = [surface.part, ...surface.steps.flatMap((step) => step.joints)];
  return [...new Set(parts.map((part) => `${part}/world matrix/final`)), ...channelsOf(surface).map((channel) => `${surface.part}/${channel}/final`)];
}

/** The channels of a surface's steps. */
export function channelsOf(surface: SurfaceHead): string[] {
  return surface.steps.flatMap((step) => deformKeys(step).map((key) => `${surface.id}.${step.id}.${key}`));
}

/** What the channels of a step are for. */
export function deformKeys(step: SurfaceHead["steps"][number]): string[] {
  const own = step.kind === "displace" ? ["amplitude", "length", "shift"] : step.shapes.map(([shape]) => shape);
  return ["weight", ...own];
}
