/** How near to a small mark a press must be to mean it, in pixels: a finger is broader than a pointer. */
export function reachOf(event: { pointerType: string }): number {
  return event.pointerType === "touch" ? 16 : 6;
}

/** Whether a finger is what mostly points here; marks are reached from farther away then. */
export const byFinger = window.matchMedia("(pointer: coarse)").matches;
