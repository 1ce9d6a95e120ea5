import type { PartView } from "../../api/client";
import { taps } from "../../shared/taps";

export interface Completion {
  /** What is put in the place of what was typed. */
  text: string;
  /** From where on. */
  from: number;
  hint: string;
}

/** The functions and names of the formula language, as they are written. */
const functions = [
  "abs(x)", "sign(x)", "sqrt(x)", "exp(x)", "ln(x)", "log10(x)", "floor(x)", "ceil(x)", "round(x)",
  "sin(x)", "cos(x)", "tan(x)", "asin(x)", "acos(x)", "atan(x)", "atan2(y, x)", "hypot(x, y)",
  "degrees(x)", "radians(x)", "min(a, b)", "max(a, b)", "if(condition, a, b)", "clamp(x, lo, hi)",
  "mix(a, b, t)", "remap(x, a, b, c, d)", "smoothstep(a, b, x)",
  "distance({a}, {b})", "travelled({a})", "travelled_x({a})", "travelled_y({a})", "travelled_z({a})",
  "speed({a})", "world_x({a})", "world_y({a})", "world_z({a})",
  "along_x({a}, {axes})", "along_y({a}, {axes})", "along_z({a}, {axes})",
  "angle_x({a}, {b})", "angle_y({a}, {b})", "angle_z({a}, {b})",
  "frame", "seconds", "fps", "pi", "tau", "e",
];

/** What may stand at the caret: parts, then channels, then taps inside braces; else functions. */
export function completionsAt(text: string, caret: number, parts: PartView[]): Completion[] {
  const before = text.slice(0, caret);
  const open = before.lastIndexOf("{");
  if (open > before.lastIndexOf("}")) return inBraces(before.slice(open + 1), open + 1, parts);
  const word = /[A-Za-z_][A-Za-z_0-9]*$/.exec(before)?.[0];
  if (!word) return [];
  return functions
    .filter((name) => name.startsWith(word) && name !== word)
    .slice(0, 8)
    .map((name) => ({ text: name.replace(/\(.*/, "("), from: caret - word.length, hint: name }));
}

function inBraces(typed: string, from: number, parts: PartView[]): Completion[] {
  const at = typed.indexOf("@");
  if (at >= 0) {
    return taps
      .filter((tap) => tap.startsWith(typed.slice(at + 1)))
      .map((tap) => ({ text: `${tap}}`, from: from + at + 1, hint: `@${tap}` }));
  }
  const dot = typed.indexOf(".");
  if (dot < 0) {
    return parts
      .filter(({ name }) => name.toLowerCase().includes(typed.toLowerCase()))
      .slice(0, 8)
      .map(({ name }) => ({ text: name, from, hint: name }));
  }
  const part = parts.find(({ name }) => name === typed.slice(0, dot));
  const wanted = typed.slice(dot + 1).toLowerCase();
  return (part?.channels ?? [])
    .filter(({ name }) => name.toLowerCase().includes(wanted))
    .sort((a, b) => Number(/^c\d/.test(b.id)) - Number(/^c\d/.test(a.id)))
    .slice(0, 8)
    .map(({ name }) => ({ text: `${name}}`, from: from + dot + 1, hint: `${part?.name ?? ""}.${name}` }));
}
