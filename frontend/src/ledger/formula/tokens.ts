/** A stretch of a formula's text, for colouring. `place` counts the numbers from 0. */
export interface Token {
  kind: "number" | "reference" | "name" | "rest";
  text: string;
  start: number;
  place?: number;
}

const pattern = /(\{[^{}]*\})|([A-Za-z_][A-Za-z_0-9]*)|((?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)|([^{}A-Za-z_0-9.]+|.)/g;

/** The text cut into references, names, numbers and the rest. It only colours: the server parses. */
export function tokensOf(text: string): Token[] {
  let place = 0;
  return [...text.matchAll(pattern)].map((match): Token => {
    const [whole, reference, name, number] = match;
    const start = match.index;
    if (reference !== undefined) return { kind: "reference", text: whole, start };
    if (name !== undefined) return { kind: "name", text: whole, start };
    if (number !== undefined) return { kind: "number", text: whole, start, place: place++ };
    return { kind: "rest", text: whole, start };
  });
}

/** What one pixel of dragging adds to a number: a hundredth of its size. */
export function dragStep(value: number): number {
  return value === 0 ? 0.01 : 10 ** (Math.floor(Math.log10(Math.abs(value))) - 2);
}
