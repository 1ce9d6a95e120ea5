import { useMemo } from "react";

import type { KitKind } from "../kind";
import { MakeRule, RuleForm } from "./Rules";
import { keepRules, useRules } from "./rules";

/** See `KitKind`; rules belong to the browser, and stay when the scene is another. */
export const rules: KitKind = {
  name: "rules",
  one: "rule",
  chapter: "Wiring by name",
  why: "A rule gives every part whose name fits a formula; run it again after renaming.",
  gone: "What it has wired stays.",
  useItems: () => {
    const { rules: found } = useRules();
    return useMemo(() => found.map((rule, n) => ({ id: String(n), name: rule.name, note: rule.pattern, parts: [] })), [found]);
  },
  rename: (item, name) => {
    keepRules(useRules.getState().rules.map((rule, n) => (String(n) === item.id ? { ...rule, name } : rule)));
    return Promise.resolve(true);
  },
  remove: (item) => {
    keepRules(useRules.getState().rules.filter((_, n) => String(n) !== item.id));
    return Promise.resolve(true);
  },
  Form: RuleForm,
  Make: MakeRule,
};
