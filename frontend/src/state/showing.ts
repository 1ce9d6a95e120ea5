import { create } from "zustand";

import type { PartView } from "../api/client";

type Role = PartView["role"];
export type HandleTool = "none" | "move" | "turn" | "scale";
export type HandleAxes = "local" | "parent" | "world";

interface Showing {
  roles: Role[];
  /** Parts hidden in this browser only. */
  hidden: string[];
  /** While not null, only these parts are drawn. */
  isolated: string[] | null;
  grid: boolean;
  labels: boolean;
  paths: boolean;
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
  onionSkins: false,
  bothWays: false,
  tool: "none",
  axes: "local",
  snap: false,
}));

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
