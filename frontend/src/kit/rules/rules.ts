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
  return Array.isArray(kept) ? (kept as Rule[]) : [];
}
