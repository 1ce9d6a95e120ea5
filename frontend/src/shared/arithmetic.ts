/** Words that may stand behind a number. The unit of a field, and others of its kind, are taken away
 * before: see `inUnits`. */
const words = /(?<=[\d.)]\s*)(?:m|cm|mm|deg|degrees|turns?|f|frames?|fps|s)$/i;

/** A comma before three digits: of a decimal, or of thousands. A zero before it says the first. */
const twoWays = /(?<![\d.,])([1-9]\d{0,2}),(\d{3})(?![\d.,])/;

/**
 * The value of what a person typed into a number field: a number, simple arithmetic
 * (`2*3+1`, `(1+2)/4`), or a change of the present value (`+=5`, `-=5`, `*=2`, `/=2`).
 * Undefined where it is none of these. With `relative`, `+5`, `*2` and `/2` are changes too.
 */
export function typed(text: string, present: number, relative = false): number | undefined {
  const given = relative ? text.trim().replace(/^([+*/])(?!=)/, "$1=") : text;
  return computed(given, present);
}

/** Whether a text is a number or arithmetic that has a value. */
export function isNumber(text: string): boolean {
  return typed(text, 0) !== undefined;
}

/** Why a text that is no number is not read. */
export function notRead(text: string): string {
  if (!text.trim()) return "There is no number here";
  if (!twoWays.test(text)) return `“${text}” is no number`;
  return `“${text}” can mean ${text.replace(twoWays, "$1$2")} or ${text.replace(twoWays, "$1.$2")}: write one of them`;
}

function computed(text: string, present: number): number | undefined {
  if (twoWays.test(text)) return undefined;
  const plain = text.replaceAll("−", "-").replaceAll(",", ".").trim().replace(words, "").replace(/[°\s]/g, "");
  const change = /^([-+*/])=(.+)$/.exec(plain);
  const operand = sum(scan(change?.[2] ?? plain));
  if (operand === undefined || !Number.isFinite(operand)) return undefined;
  const value = change ? apply(change[1] ?? "", present, operand) : operand;
  return Number.isFinite(value) ? value : undefined;
}

interface Reader {
  tokens: string[];
  place: number;
}

function scan(text: string): Reader | undefined {
  const tokens = text.match(/\d+\.?\d*(?:e[-+]?\d+)?|\.\d+|[-+*/()]/gi) ?? [];
  return tokens.join("") === text && tokens.length ? { tokens, place: 0 } : undefined;
}

function sum(reader: Reader | undefined): number | undefined {
  if (!reader) return undefined;
  const value = chain(reader, ["+", "-"], () => chain(reader, ["*", "/"], () => signed(reader)));
  return reader.place === reader.tokens.length ? value : undefined;
}

function chain(
  reader: Reader,
  operators: string[],
  next: () => number | undefined,
): number | undefined {
  let value = next();
  for (;;) {
    const operator = reader.tokens[reader.place];
    if (value === undefined || !operator || !operators.includes(operator)) return value;
    reader.place += 1;
    const right = next();
    value = right === undefined ? undefined : apply(operator, value, right);
  }
}

function signed(reader: Reader): number | undefined {
  const token = reader.tokens[reader.place];
  reader.place += 1;
  if (token === undefined) return undefined;
  if (token === "-" || token === "+") {
    const value = signed(reader);
    return value === undefined ? undefined : token === "-" ? -value : value;
  }
  if (token !== "(") {
    const value = Number(token);
    return Number.isNaN(value) ? undefined : value;
  }
  const value = chain(reader, ["+", "-"], () => chain(reader, ["*", "/"], () => signed(reader)));
  const closed = reader.tokens[reader.place] === ")";
  reader.place += 1;
  return closed ? value : undefined;
}

function apply(operator: string, a: number, b: number): number {
  if (operator === "+") return a + b;
  if (operator === "-") return a - b;
  return operator === "*" ? a * b : a / b;
}
