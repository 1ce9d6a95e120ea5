import type { DrivenView } from "../api/client";

export interface Cell {
  row: string;
  stop: number;
  value: number;
}

/** The cells of a block copied from a spreadsheet, laid down from one cell on; what lies beyond
 * the sheet or is no number is left out. */
export function pastedCells(text: string, set: DrivenView, row: string | undefined, stop: number): Cell[] {
  const top = set.rows.findIndex((one) => one.row === row);
  const left = set.stops.indexOf(stop);
  if (top < 0 || left < 0) return [];
  const lines = text.replace(/\r/g, "").replace(/\n+$/, "").split("\n");
  return lines.flatMap((line, n) =>
    line.split("\t").flatMap((word, m) => {
      const target = set.rows[top + n];
      const column = set.stops[left + m];
      const value = Number(word.replace("°", "").replace("−", "-").replace(",", ".").trim());
      if (!target || column === undefined || !word.trim() || !Number.isFinite(value)) return [];
      return [{ row: target.row, stop: column, value }];
    }),
  );
}
