export type FrameSpan = [number, number];

const piece = /^([-−]?\d+)(?:\s*(?:-|–|…|\.{2,3})\s*([-−]?\d+))?$/;

/** Spans of frames as people write them, `10 … 20, 40-60, 75`; undefined where that cannot be read. */
export function spansOf(text: string): FrameSpan[] | undefined {
  const found: FrameSpan[] = [];
  for (const one of text.split(/[,;]/).map((part) => part.trim()).filter(Boolean)) {
    const [, a, b] = piece.exec(one) ?? [];
    if (a === undefined) return undefined;
    const [first, last] = [a, b ?? a].map((number) => Number(number.replace("−", "-"))) as FrameSpan;
    found.push(first <= last ? [first, last] : [last, first]);
  }
  return found;
}

/** Spans as they are written. */
export function saidSpans(spans: readonly (readonly number[])[]): string {
  return spans.map(([first, last]) => (first === last ? String(first) : `${String(first)} … ${String(last)}`)).join(", ");
}
