import type { Gait, OneEdit } from "../../api/client";

/** The edit that changes some of a gait. */
export function gaitEdit(gait: Gait, what: Partial<Gait>): OneEdit {
  return { do: "put gait", ...gait, ...what } as OneEdit;
}

/** The edit that lets a foot land at another share of a cycle; beyond one it begins again. */
export function footEdit(gait: Gait, n: number, phase: number): OneEdit {
  const share = Number((phase - Math.floor(phase)).toFixed(6));
  return gaitEdit(gait, { feet: (gait.feet ?? []).map((foot, m) => (m === n ? { ...foot, phase: share } : foot)) });
}
