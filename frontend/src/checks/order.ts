import type { FindingView, Looking } from "../state/checks";

/** The findings of one part: a row of the strips. */
export interface Row {
  part: string;
  findings: FindingView[];
}

/** The findings that are looked for, of those that nobody accepted. What concerns all frames is in every
 * span. */
export function wanted(findings: FindingView[], looking: Pick<Looking, "check" | "mine" | "span" | "hidden">, chosenParts: string[]): FindingView[] {
  const { check, mine, span, hidden } = looking;
  const [from, to] = span ?? [-Infinity, Infinity];
  return findings.filter((one) =>
    one.accepted === null
    && (check === null || one.check === check)
    && (!mine || chosenParts.includes(one.part))
    && !hidden.includes(one.severity)
    && (!one.spans.length || one.spans.some(([first, last]) => first <= to && last >= from)));
}

const worst = { wrong: 0, doubtful: 1, untidy: 2 };

/** Findings in rows by part: parts with the worst first, then in the order of the tree; in a row by
 * severity, then by frame. */
export function rowsOf(findings: FindingView[], tree: string[]): Row[] {
  const rows = new Map<string, FindingView[]>();
  for (const finding of findings) rows.set(finding.part, [...(rows.get(finding.part) ?? []), finding]);
  const place = new Map(tree.map((part, n) => [part, n]));
  const rank = (row: Row) => Math.min(...row.findings.map(({ severity }) => worst[severity]));
  return [...rows]
    .map(([part, found]) => ({ part, findings: [...found].sort((a, b) => worst[a.severity] - worst[b.severity] || (a.frame ?? -Infinity) - (b.frame ?? -Infinity)) }))
    .sort((a, b) => rank(a) - rank(b) || (place.get(a.part) ?? 0) - (place.get(b.part) ?? 0));
}

/** The finding so many places after one, in the order of the rows; the first or last one at the ends. */
export function nextFinding(rows: Row[], id: string | null, by: number): FindingView | undefined {
  const all = rows.flatMap(({ findings }) => findings);
  const at = all.findIndex((one) => one.id === id);
  if (at < 0) return by > 0 ? all[0] : all.at(-1);
  return all[Math.min(Math.max(at + by, 0), all.length - 1)];
}

/** An amount as people say it. */
export function saidAmount(amount: number, unit: string): string {
  const digits = Math.abs(amount) >= 100 ? amount.toFixed(0) : String(Number(amount.toPrecision(3)));
  if (amount === 1 && unit.endsWith("s")) return `1 ${unit.slice(0, -1)}`;
  return unit.startsWith("°") ? `${digits}${unit}` : `${digits} ${unit}`.trim();
}
