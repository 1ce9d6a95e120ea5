import { useEffect, useMemo } from "react";
import { create } from "zustand";

import type { OneEdit, SceneView, Shown } from "../api/client";
import { passes, reason, refusal } from "../api/client";
import { AGAIN } from "../api/queryClient";

/** Numbers over frames: `width` numbers for each frame, or for all frames where `frames` is 1. */
export interface Block {
  key: string;
  frames: number;
  width: number;
  data: Float32Array;
}

interface Samples {
  blocks: Record<string, Block>;
  first: number;
  last: number;
  problem: string | null;
  /** How often all that is shown has come, with what the view draws. */
  arrivals: number;
  /** Something is tried out that is not saved: a value is being dragged. */
  trying: boolean;
}

/** What the server computed last for everything that is shown, by `part/quantity/stage`. */
export const useSamples = create<Samples>(() => ({
  blocks: {},
  first: 0,
  last: 0,
  problem: null,
  arrivals: 0,
  trying: false,
}));

/** What the view alone draws. */
const inSpace = new Set(["world matrix", "seen", "path", "both ways"]);

const nothing = () => undefined;

interface Header {
  revision: number;
  /** With the answer to an edit: what changed of the scene. */
  view?: SceneView;
  first: number;
  last: number;
  missing?: string[];
  blocks: { want: string; key: string; frames: number; width: number; offset?: number }[];
}

/**
 * Fetches wanted numbers: one request at a time, always for the newest state, and only what
 * the browser does not hold already.
 */
class Feed {
  private sceneId = 0;
  private wants = new Map<string, number>();
  private trying: OneEdit[] = [];
  /** Try-outs that stay until they are kept or dropped. */
  private kept = new Map<string, OneEdit[]>();
  private busy = false;
  private again = false;
  private revision = 0;
  private viewRest = 0;
  /** When the view's numbers are asked for again while something is dragged. */
  private viewDue = 0;
  private viewLate: ReturnType<typeof setTimeout> | undefined;
  private later: ReturnType<typeof setTimeout> | undefined;

  open(sceneId: number) {
    if (this.sceneId === sceneId) return;
    this.sceneId = sceneId;
    this.try([]);
    this.kept.clear();
    this.revision = 0;
    useSamples.setState({ blocks: {}, problem: null });
    this.ask();
  }

  want(names: string[]) {
    for (const name of names) this.wants.set(name, (this.wants.get(name) ?? 0) + 1);
    this.ask();
    return () => {
      for (const name of names) {
        const count = (this.wants.get(name) ?? 1) - 1;
        if (count > 0) this.wants.set(name, count);
        else this.wants.delete(name);
      }
    };
  }

  /** The scene has another revision: everything shown is asked for anew. */
  moveTo(revision: number) {
    this.revision = revision;
    this.try([]);
    this.ask();
  }

  /** Shows what these edits would do; nothing is saved. An empty list ends that. */
  tryOut(edits: OneEdit[]) {
    this.try(edits);
    this.ask();
  }

  private try(edits: OneEdit[]) {
    this.trying = edits;
    const trying = edits.length > 0;
    if (trying !== useSamples.getState().trying) useSamples.setState({ trying });
    if (!trying) clearTimeout(this.viewLate);
  }

  /** Goes on showing what these edits would do, whatever else is tried or edited. Each owner has
   * try-outs of its own. */
  keepTrying(owner: string, edits: OneEdit[]) {
    if (edits.length) this.kept.set(owner, edits);
    else if (!this.kept.delete(owner)) return;
    this.ask();
  }

  /** The view has drawn, and will not again sooner than after so many milliseconds: while something is
   * dragged its numbers are not asked for before, only those of curves. */
  letViewRest(rest: number) {
    this.viewRest = rest;
    this.viewDue = performance.now() + rest;
  }

  /** All that is tried now and not saved. */
  allTried(): OneEdit[] {
    return [...[...this.kept.values()].flat(), ...this.trying];
  }

  private ask() {
    this.again = true;
    if (this.busy || !this.sceneId) return;
    this.busy = true;
    queueMicrotask(() => void this.run());
  }

  /** Resolves when everything that is tried and wanted now has been answered. */
  async settled(): Promise<void> {
    while (this.busy) await new Promise((done) => { requestAnimationFrame(done); });
  }

  private async run() {
    let answer = this.begin();
    for (;;) {
      const take = await answer;
      // The server works on what came to be wanted meanwhile while this is drawn.
      const more = this.again;
      if (more) answer = this.begin();
      take();
      if (more) continue;
      if (!this.again) break;
      answer = this.begin();
    }
    this.busy = false;
  }

  /** Asks for everything that is wanted now; resolves, whatever comes, to what takes the answer. */
  private async begin(): Promise<() => void> {
    this.again = false;
    clearTimeout(this.later);
    try {
      return await this.fetchOnce();
    } catch (error) {
      // What is shown now must come once the server is back, whether or not anybody asks for more.
      if (passes(error)) this.later = setTimeout(() => { this.ask(); }, AGAIN);
      return () => { useSamples.setState({ problem: reason(error) }); };
    }
  }

  /** All that is shown, and what is held already: what an edit's answer should bring the rest of. */
  shown(): Shown {
    return question([...this.wants.keys()], useSamples.getState().blocks);
  }

  /** Whether the view's numbers are asked for too; where not, they will be when they are due. */
  private isForView(): boolean {
    clearTimeout(this.viewLate);
    const wait = this.viewDue - performance.now();
    if (this.trying.length && wait > 0) {
      this.viewLate = setTimeout(() => { this.ask(); }, wait);
      return false;
    }
    this.viewDue = performance.now() + this.viewRest;
    return true;
  }

  private async fetchOnce(): Promise<() => void> {
    const { blocks } = useSamples.getState();
    if (!this.wants.size) return nothing;
    const scene = this.sceneId;
    const trying = this.allTried();
    const all = this.isForView();
    const names = [...this.wants.keys()].filter((name) => all || !isInSpace(name));
    const held = all ? blocks : chosen(blocks, names);
    const response = await fetch(`/api/scenes/${String(scene)}/samples`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ ...question(names, held), trying }),
    });
    if (scene !== this.sceneId) return nothing;
    if (!response.ok) {
      const problem = refusal(await response.json(), response.status);
      // A try-out may be impossible half way through a drag, or since it has just been saved as an
      // edit; what was shown before stays.
      if (!trying.length || problem.passing) throw problem;
      this.again ||= !this.allTried().length;
      return nothing;
    }
    const buffer = await response.arrayBuffer();
    return () => {
      if (scene !== this.sceneId) return;
      // An edit may have been answered meanwhile, with newer numbers than these.
      if (headerOf(buffer).revision < this.revision) this.again = true;
      else if (all) this.takeAll(buffer, held);
      else useSamples.setState({ ...unpacked(buffer, { ...useSamples.getState().blocks, ...held }), problem: null });
    };
  }

  /** The numbers that came with the answer to an edit; `before` was there when it was sent. */
  takeWithEdit(buffer: ArrayBuffer, before: Record<string, Block>) {
    this.revision = headerOf(buffer).revision;
    this.try([]);
    this.takeAll(buffer, before);
    // What came to be shown while the edit was under way is not in its answer, nor are try-outs.
    const { blocks } = useSamples.getState();
    if (this.kept.size || [...this.wants.keys()].some((name) => !name.startsWith("*") && !blocks[name])) this.ask();
  }

  private takeAll(buffer: ArrayBuffer, before: Record<string, Block>) {
    useSamples.setState(({ arrivals }) => ({ ...unpacked(buffer, before), problem: null, arrivals: arrivals + 1 }));
  }
}

function isInSpace(name: string): boolean {
  return inSpace.has(name.split("/")[1] ?? "");
}

function chosen(blocks: Record<string, Block>, names: string[]): Record<string, Block> {
  return Object.fromEntries(names.flatMap((name) => (blocks[name] ? [[name, blocks[name]]] : [])));
}

/** What is asked of the server by somebody who holds these blocks. */
function question(names: string[], held: Record<string, Block>): Shown {
  const wants = names.map((name) => {
    const [part = "", quantity = "", stage = ""] = name.split("/");
    return { part, quantity, stage };
  });
  const have = Object.fromEntries(Object.entries(held).map(([name, { key }]) => [name, key]));
  return { wants, have };
}

/**
 * The numbers of a binary answer to somebody who held those of `before`: what the answer does not
 * speak of is as it was, and stays the same object, so that nothing is drawn again for it.
 */
export function unpacked(buffer: ArrayBuffer, before: Record<string, Block> = {}): Pick<Samples, "blocks" | "first" | "last"> {
  const { blocks: listed, first, last, missing = [] } = headerOf(buffer);
  const length = new DataView(buffer).getUint32(0, true);
  const gone = new Set(missing);
  const blocks = Object.fromEntries(Object.entries(before).filter(([name]) => !gone.has(name)));
  const byKey = new Map(Object.values(before).map((block) => [block.key, block.data]));
  for (const { want, key, frames, width, offset } of listed) {
    if (offset !== undefined) {
      byKey.set(key, new Float32Array(buffer, 4 + length + offset, frames * width));
    }
    const data = byKey.get(key);
    if (data) blocks[want] = { key, frames, width, data };
  }
  return { blocks, first, last };
}

/** The header of a binary answer. */
export function headerOf(buffer: ArrayBuffer): Header {
  const length = new DataView(buffer).getUint32(0, true);
  return JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as Header;
}

export const feed = new Feed();

/** Asks for these numbers for as long as the component is there. */
export function useWants(names: string[]) {
  const joined = names.join("\n");
  useEffect(() => feed.want(joined ? joined.split("\n") : []), [joined]);
}

/** The numbers of one want, kept up to date; undefined until they have come. */
export function useBlock(name: string | null | undefined): Block | undefined {
  const names = useMemo(() => (name ? [name] : []), [name]);
  useWants(names);
  return useSamples((samples) => (name ? samples.blocks[name] : undefined));
}

/** A scalar block's value on a frame. */
export function valueAt(block: Block | undefined, frame: number, first: number) {
  if (!block) return undefined;
  const place = block.frames === 1 ? 0 : Math.min(Math.max(frame - first, 0), block.frames - 1);
  return block.data[place * block.width];
}
