import { create } from "zustand";

import type { components } from "../../api/schema";
import { remembered } from "../../state/remembered";

export type Rule = components["schemas"]["NameRule"];

const store = "bindu.rules";
export const example: Rule = { name: "fan", pattern: "* feather [1-6]", channel: "rotation.y", formula: "{body.spread} * <2> * 8", mode: "add" };

/** The rules of this browser. */
export const useRules = create<{ rules: Rule[] }>(() => ({ rules: keptRules() }));

export function keepRules(rules: Rule[]) {
  useRules.setState({ rules });
  localStorage.setItem(store, JSON.stringify(rules));
}

function keptRules(): Rule[] {
  const kept = remembered(localStorage, store);
  return Array.isArray(kept) && kept.every((one) => wrongIn(one) === null) ? (kept as Rule[]) : [];
}

/** The rules in a file's text, or what is wrong with it. */
export function rulesIn(text: string): Rule[] | string {
  let found: unknown;
  try {
    found = JSON.parse(text);
  } catch {
    return "it is not JSON.";
  }
  if (!Array.isArray(found)) return "it holds no list of rules.";
  const at = found.findIndex((one) => wrongIn(one) !== null);
  return at < 0 ? (found as Rule[]) : `rule ${String(at + 1)} ${wrongIn(found[at]) ?? ""}.`;
}

const texts = ["name", "pattern", "channel", "formula"] as const;
const modes: unknown[] = ["add", "set", "scale", undefined];

/** What is wrong with something that should be a rule; null where nothing is. */
function wrongIn(one: unknown): string | null {
  if (typeof one !== "object" || one === null) return "is none";
  const rule = one as Record<string, unknown>;
  const missing = texts.find((field) => typeof rule[field] !== "string");
  if (missing) return `has no ${missing}`;
  return modes.includes(rule["mode"]) ? null : "writes in a way that is not known: add, set or scale";
}
