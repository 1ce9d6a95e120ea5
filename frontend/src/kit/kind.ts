import type { ComponentType } from "react";

import type { OneEdit } from "../api/client";
import type { KitName } from "../state/kit";

/** A thing in the list. */
export interface KitItem {
  id: string;
  name: string;
  /** What tells it from others at a glance. */
  note: string;
  /** The parts that it is about: *show* chooses them. */
  parts: string[];
}

/** Saves edits; resolves to whether they were taken. */
export type Save = (...edits: OneEdit[]) => Promise<boolean>;

/** A kind of things of a rig, all that the list and the form need to know of it. */
export interface KitKind {
  name: KitName;
  /** One of them. */
  one: string;
  /** Its chapter of the guide. */
  chapter: string;
  /** What it is for, in a sentence. */
  why: string;
  /** What becomes of the rest when one is deleted. */
  gone: string;
  /** All of them, as a hook. */
  useItems: () => KitItem[];
  rename: (item: KitItem, name: string, save: Save) => Promise<boolean>;
  remove: (item: KitItem, save: Save) => Promise<boolean>;
  /** Shows it; left out: its parts are chosen. */
  show?: (item: KitItem) => void;
  /** All that can be changed of one. */
  Form: ComponentType<{ id: string }>;
  /** Makes a new one. */
  Make: ComponentType<{ onMade: () => void }>;
}
