/** The views of a scene, by the word in the address. */
export const views = { bench: "Bench", wiring: "Wiring", stops: "Stops", checks: "Checks", deliver: "Deliver" } as const;

export type View = keyof typeof views;
