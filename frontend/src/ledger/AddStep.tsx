import { Button } from "antd";
import { memo } from "react";

import type { ChannelView, OneEdit, PartView } from "../api/client";
import { useEdit } from "../state/useEdit";
import { beginEditing } from "../state/editing";
import { chooseStep } from "../state/selection";
import { freeStepName } from "./binding/settings";
import { AddShaper } from "./shapers/AddShaper";
import { AddBinding } from "./binding/AddBinding";
import { chosenNow, useChosenChannel, useOpenScene } from "../state/openScene";
import type { Tap } from "../shared/taps";

/** Adds a step where it has a meaning: shapers in Keyed and Late, formulas in Driven and Late, limits in
 * Final. */
export const AddStep = memo(function AddStep({ zone }: { zone: Tap }) {
  const edit = useEdit();
  const channel = useChosenChannel()?.name;
  const kind = zone === "final" ? "limit" : zone === "driven" || zone === "late" ? "formula" : null;
  if (channel === undefined) return null;
  if (zone === "keyed") return <AddShaper channel={channel} zone="keyed" />;
  if (zone === "bound") return <AddBinding zone="bound" />;
  if (!kind) return null;
  const add = () => {
    const chosen = chosenNow();
    if (!chosen) return;
    const { part, channel } = chosen;
    if (kind === "limit") void edit(limitOn(part, channel));
    else void addFormula(edit, part, channel, zone);
  };
  const own = (
    <Button type="text" size="small" title={kind === "formula" ? "Drive this: a formula for this channel" : "Add a limit to this channel"} onClick={add} style={{ fontSize: 11.5 }}>
      + {kind}
    </Button>
  );
  return zone === "late" ? <>{own}<AddShaper channel={channel} zone="late" /><AddBinding zone="late" /></> : own;
});

/** The edit that drives a channel by a formula, which adds 0 at first. */
function formulaOn(part: PartView, channel: ChannelView, zone: Tap = "driven"): OneEdit {
  const settings = { kind: "formula" as const, channel: channel.id, text: "0", mode: "add" as const };
  return { do: "add step", part: part.id, name: freeStepName(part, "formula"), zone, settings };
}

/** Drives a channel by a formula, and opens its editor. */
export async function addFormula(edit: (...edits: OneEdit[]) => Promise<boolean>, part: PartView, channel: ChannelView, zone: Tap = "driven") {
  const made = formulaOn(part, channel, zone);
  if (!(await edit(made))) return;
  const step = useOpenScene.getState().parts[part.id]?.steps.find(({ name }) => "name" in made && name === made.name);
  chooseStep(step?.id ?? null);
  beginEditing(step?.id ?? null);
}

function limitOn(part: PartView, channel: ChannelView): OneEdit {
  const settings = { kind: "limit" as const, channel: channel.id, low: channel.low ?? -1, high: channel.high ?? 1 };
  return { do: "add step", part: part.id, name: freeStepName(part, "limit"), settings };
}
