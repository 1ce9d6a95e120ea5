import { create } from "zustand";

import type { PartView } from "../api/client";
import { perScene } from "./perScene";

type Role = PartView["role"];
export type HandleTool = "none" | "move" | "turn" | "scale";
export type HandleAxes = "local" | "parent" | "world";

/** In which part ways are counted, null for the world, and of which point of the parts, metres. */
export interface PathsIn {
  space: string | null;
  point: [number, number, number];
}

interface Showing {
  roles: Role[];
  /** Parts hidden in this browser only. */
  hidden: string[];
  /** While not null, only these parts are drawn. */
  isolated: string[] | null;
  grid: boolean;
  labels: boolean;
  paths: boolean;
  pathsIn: PathsIn;
  onionSkins: boolean;
  /** FK and IK of the chosen limbs, each alone. */
  bothWays: boolean;
  tool: HandleTool;
  axes: HandleAxes;
  /** Handles move in steps of metres and degrees. */
  snap: boolean;
}

/** What the view draws, and which handles. It belongs to the browser, not to the scene. */
export const useShowing = create<Showing>(() => ({
  roles: ["control", "joint", "helper", "prop"],
  hidden: [],
  isolated: null,
  grid: true,
  labels: false,
  paths: true,
  pathsIn: { space: null, point: [0, 0, 0] },
  onionSkins: false,
  bothWays: false,
  tool: "none",
  axes: "local",
  snap: false,
}));

perScene(() => {
  useShowing.setState(({ pathsIn }) => ({ hidden: [], isolated: null, pathsIn: { ...pathsIn, space: null } }));
});

export function hideParts(parts: string[]) {
  useShowing.setState(({ hidden }) => ({ hidden: [...new Set([...hidden, ...parts])] }));
}

export function showAll() {
  useShowing.setState({ hidden: [], isolated: null });
}

export function isolateParts(parts: string[]) {
  useShowing.setState({ isolated: parts.length ? parts : null });
}

/** Whether the view draws a part. */
export function isDrawn({ roles, hidden, isolated }: Showing, part: PartView): boolean {
  if (isolated && !isolated.includes(part.id)) return false;
  return roles.includes(part.role) && !hidden.includes(part.id);
}
