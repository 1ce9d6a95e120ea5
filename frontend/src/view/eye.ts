type Point = [number, number, number];

/** From where somebody looks at a scene, and at what. */
export interface Eye {
  sceneId: number;
  /** The camera that it began with. */
  camera: string;
  position: Point;
  target: Point;
}

let kept: Eye | null = null;

/** Keeps from where the view of the Bench looks, for when it comes back: from another view, or drawn anew. */
export function keepEye(eye: Eye) {
  kept = eye;
}

/** From where a scene was looked at last; null: it was not. */
export function keptEye(sceneId: number): Eye | null {
  return kept?.sceneId === sceneId ? kept : null;
}

/** Metres from the eye between which things are drawn, when what it looks at is so far away: far scenes are
 * seen whole, near ones to the finger's breadth. */
export function depthAt(away: number): { near: number; far: number } {
  const far = Math.max(500, 4 * away);
  return { near: far / 10_000, far };
}
