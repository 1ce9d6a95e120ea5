import type { Severity } from "../state/checks";
import { ink } from "../shared/theme";

/** The mark of each severity: its form says it without its colour. */
export const marks: Record<Severity, { sign: string; colour: string }> = {
  wrong: { sign: "◆", colour: ink.trouble },
  doubtful: { sign: "▲", colour: ink.doubtful },
  untidy: { sign: "○", colour: ink.quiet },
};

export const severities: Severity[] = ["wrong", "doubtful", "untidy"];

export function Mark({ severity }: { severity: Severity }) {
  const { sign, colour } = marks[severity];
  return <span title={severity} aria-label={severity} role="img" style={{ color: colour, width: 14, display: "inline-block", textAlign: "center" }}>{sign}</span>;
}
