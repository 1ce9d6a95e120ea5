import type { OneEdit, StepView } from "../api/client";
import type { WireView } from "../state/order";
import { isConstraint } from "../ledger/binding/settings";
import { useOpenScene } from "../state/openScene";

type Tap = "keyed" | "driven" | "bound" | "solved" | "late" | "final";

/** The step of a port, `part/step`. */
export function stepOf(port: string): StepView | undefined {
  const [part = "", step = ""] = port.split("/");
  return useOpenScene.getState().parts[part]?.steps.find(({ id }) => id === step);
}

/** The edit that lets a step read what another port offers: a constraint gets a target more, a
 * formula adds the channel. */
export function connectEdit(source: string, target: string): OneEdit | null {
  const step = stepOf(target);
  const [from = "", rest = ""] = source.split("/");
  if (!step) return null;
  const { settings } = step;
  if (isConstraint(settings) || settings.kind === "aim") {
    if (settings.targets.some(({ part }) => part === from)) return null;
    return { do: "change step", step: step.id, settings: { ...settings, targets: [...settings.targets, { part: from }] } };
  }
  if (settings.kind !== "formula") return null;
  const { parts } = useOpenScene.getState();
  const [quantity = "", tap = "final"] = rest.split("@");
  const channel = parts[from]?.channels.find(({ id }) => id === quantity);
  const name = parts[from]?.name ?? "";
  const at = tap === "final" ? "" : `@${tap}`;
  const term = channel ? `{${name}.${channel.name}${at}}` : measure(quantity, `{${name}${at}}`);
  if (!term) return null;
  return { do: "change step", step: step.id, settings: { ...settings, text: settings.text === "0" ? term : `${settings.text} + ${term}` } };
}

function measure(quantity: string, part: string): string | null {
  if (quantity === "travelled" || quantity === "speed") return `${quantity}(${part})`;
  return quantity === "world position" || quantity === "world matrix" ? `world_x(${part})` : null;
}

/** Whether a read is of what a limb solves: by the parts of its chain, always at one tap. */
export function isSolution(wire: WireView): boolean {
  return wire.source.includes("/solve@");
}

/** Whether a surface reads: always at final, and as its own form says. */
export function isOfSurface(wire: WireView): boolean {
  return wire.target_card.startsWith("surface ");
}

/** What tells a read from others. */
export function idOf(wire: WireView): string {
  return `${wire.source} ${wire.target} ${wire.tap}${wire.back ? " back" : ""}`;
}

/** A read as it is among these, if it is still there. */
export function wireNow(wires: WireView[], wire: WireView | null): WireView | undefined {
  return wire ? wires.find((one) => idOf(one) === idOf(wire)) : undefined;
}

/** Whether a read stands for several, of parts that are folded. */
export function isFolded({ source, target }: WireView): boolean {
  return source.endsWith("/folded") || target.endsWith("/folded");
}

/** The edit that takes a read at another tap, or one frame back; the server does the rest. */
export function rereadEdit(wire: WireView, tap: Tap, back: boolean): OneEdit {
  const [part = "", rest = ""] = wire.source.split("/");
  const quantity = rest.slice(0, rest.lastIndexOf("@"));
  const step = wire.target.split("/")[1] ?? "";
  return { do: "reread", step, part, quantity, tap: wire.tap as Tap, back: wire.back, to: tap, to_back: back };
}
