import { App } from "antd";

import type { OneEdit } from "../api/client";
import { useCommands } from "../commands/commandList";
import type { Command } from "../commands/commandList";
import { useShortcuts } from "../commands/shortcuts";
import { useEdit } from "../state/useEdit";
import { channelsInScope, chosenLayer, dropTryOuts, handOverTryOuts, keyedCurve, keyedId, tryOutEdits, useKeyState, wholeFrames } from "../state/keying";
import { chosenNow, useOpenScene } from "../state/openScene";
import { goTo, stepBy, stop, togglePlay, usePlayer } from "../state/player";
import { chooseKeys, choosePart, chooseParts, useSelection } from "../state/selection";
import type { HandleTool } from "../state/showing";
import { hideParts, isolateParts, showAll, useShowing } from "../state/showing";
import { poseCommands } from "../ledger/channels/poses";
import { addFormula } from "../ledger/AddStep";
import { showInKit } from "../state/kit";
import { foldPanel, viewAlone } from "../state/panels";
import { kinds as kit } from "../kit/kinds";
import { toLandmark } from "../commands/landmarks";
import { chosenPicks, deleteKeys, keyCommands } from "../time/keys/keyCommands";

type Edit = (...edits: OneEdit[]) => Promise<boolean>;

/** Says why a command does nothing. */
type Tell = (text: string) => void;

/** The commands of the Bench: by key of the keyboard, and by name in the palette. */
export function useBenchCommands() {
  const edit = useEdit();
  const { message } = App.useApp();
  const tell = (text: string) => void message.info(text, 3);
  useShortcuts({
    play: togglePlay,
    back: () => { stepBy(-1); },
    forth: () => { stepBy(1); },
    keyBack: () => { toKey(-1); },
    keyForth: () => { toKey(1); },
    key: () => { keyScope(edit, tell); },
    remove: () => { removeKeys(edit, tell); },
    none: () => { chooseKeys([]); },
    mute: () => { muteStep(edit, tell); },
    move: () => { handleTool("move"); },
    turn: () => { handleTool("turn"); },
    scale: () => { handleTool("scale"); },
    chooseKey: () => { chooseKey(tell); },
    foldLeft: () => { foldPanel("left"); },
    foldLedger: () => { foldPanel("ledger"); },
    foldTime: () => { foldPanel("time"); },
    alone: viewAlone,
    landmark: () => { toLandmark(1); },
    landmarkBack: () => { toLandmark(-1); },
    opposite: chooseOpposite,
    hide: () => { hideParts(useSelection.getState().parts); },
    isolate: toggleIsolated,
  });
  useCommands("bench", () => [
    ...viewCommands,
    { name: "Key the key scope on this frame", shortcut: "key", run: () => { keyScope(edit, tell); } },
    { name: "Keep all try-outs", run: () => { keepTryOuts(edit); } },
    { name: "Drop all try-outs", run: dropTryOuts },
    { name: "Mute or unmute the chosen step", shortcut: "mute", run: () => { muteStep(edit, tell); } },
    { name: "Choose the key on this frame", shortcut: "chooseKey", run: () => { chooseKey(tell); } },
    { name: "Delete the chosen keys", shortcut: "remove", run: () => { removeKeys(edit, tell); } },
    ...kinds.map((kind) => ({ name: `Interpolation of the chosen keys: ${kind}`, run: () => void edit({ do: "set interpolation", picks: chosenPicks(), interpolation: kind }) })),
    { name: "Drive this: a formula for the chosen channel", run: () => { driveChosen(edit, tell); } },
    ...kit.map((kind) => ({ name: `New ${kind.one}: open its form in the kit`, run: () => { showInKit(kind.name); } })),
    ...keyCommands(edit).map(({ name, run }) => ({ name, run })),
    ...poseCommands(edit, tell).map(({ name, section, run }) => ({
      name: section === "reset" ? `Reset ${name}` : `Pose: ${name}`,
      run,
    })),
  ]);
}

const kinds = ["hold", "linear", "smooth", "ease in", "ease out", "ease both", "overshoot", "bounce", "spring"] as const;

function removeKeys(edit: Edit, tell: Tell) {
  if (useSelection.getState().keys.length) deleteKeys(edit);
  else tell("No key is chosen.");
}

function muteStep(edit: Edit, tell: Tell) {
  const { part, step } = useSelection.getState();
  const found = part ? useOpenScene.getState().parts[part]?.steps.find(({ id }) => id === step) : undefined;
  if (found) void edit({ do: "change step", step: found.id, on: !found.on });
  else tell("No step is chosen: choose one in the ledger.");
}

const NO_CHANNEL = "No channel is chosen: choose one in the list of channels.";

/** Chooses the key of the chosen channel on this frame; where there is none, the nearest, and goes
 * there. */
function chooseKey(tell: Tell) {
  const { part, channel: id } = useSelection.getState();
  const channel = part ? useOpenScene.getState().parts[part]?.channels.find((one) => one.id === id) : undefined;
  const layer = chosenLayer();
  if (!part || !channel) { tell(NO_CHANNEL); return; }
  const { frame } = usePlayer.getState();
  const frames = keyedCurve(channel, layer)?.keys.map((key) => key.frame) ?? [];
  const near = frames.sort((a, b) => Math.abs(a - frame) - Math.abs(b - frame))[0];
  if (near === undefined) { tell(`${channel.name} has no keys.`); return; }
  chooseKeys([{ part, channel: keyedId(channel, layer), frames: [near] }]);
  stop();
  goTo(near);
}

const viewCommands: Command[] = [
  { name: "Play or stop", shortcut: "play", run: togglePlay },
  { name: "Select the opposite", shortcut: "opposite", run: chooseOpposite },
  { name: "Hide the chosen parts", shortcut: "hide", run: () => { hideParts(useSelection.getState().parts); } },
  { name: "Isolate the chosen parts", shortcut: "isolate", run: toggleIsolated },
  { name: "Show all parts", run: showAll },
  { name: "Fold or show parts and channels", shortcut: "foldLeft", run: () => { foldPanel("left"); } },
  { name: "Fold or show the ledger", shortcut: "foldLedger", run: () => { foldPanel("ledger"); } },
  { name: "Fold or show lanes and curves", shortcut: "foldTime", run: () => { foldPanel("time"); } },
  { name: "Give the view the whole window", shortcut: "alone", run: viewAlone },
  { name: "Handles: move", shortcut: "move", run: () => { handleTool("move"); } },
  { name: "Handles: rotate", shortcut: "turn", run: () => { handleTool("turn"); } },
  { name: "Handles: scale", shortcut: "scale", run: () => { handleTool("scale"); } },
  { name: "Handles: none", run: () => { useShowing.setState({ tool: "none" }); } },
];

/** Keeps all that is tried: keyed where there are keys, else set. */
export function keepTryOuts(edit: Edit) {
  const tried = tryOutEdits(false);
  if (tried.length) void handOverTryOuts(() => edit(...tried));
}

/** Puts a key on every channel of the scope; try-outs become keys with it. */
export function keyScope(edit: Edit, tell: Tell) {
  const { scope, tryOuts } = useKeyState.getState();
  const { frame } = usePlayer.getState();
  const tried = tryOutEdits(true);
  const layer = chosenLayer();
  const keyed = new Set(tryOuts.map((one) => `${one.part} ${one.channel} ${String(one.frame)}`));
  const { parts } = useOpenScene.getState();
  const channels = channelsInScope().filter(([part, id]) => {
    const channel = parts[part]?.channels.find((one) => one.id === id);
    const here = channel && keyedCurve(channel, layer)?.keys.some((key) => key.frame === frame);
    return channel && !channel.locked && !here && !keyed.has(`${part} ${id} ${String(frame)}`);
  });
  const edits: OneEdit[] = [...tried];
  if (scope !== "changed only" && channels.length) {
    edits.push({ do: "key channels", frame, channels, layer });
  }
  if (edits.length) void handOverTryOuts(() => edit(...edits));
  else tell(whyNothingIsKeyed(frame));
}

function whyNothingIsKeyed(frame: number): string {
  const { scope } = useKeyState.getState();
  if (scope === "changed only") return "Nothing is only tried, so nothing is keyed.";
  const { parts } = useOpenScene.getState();
  const channels = channelsInScope();
  if (!channels.length) return scope === "channel" ? NO_CHANNEL : "The key scope holds no channel here: choose a part, or another scope.";
  if (channels.every(([part, id]) => parts[part]?.channels.find((one) => one.id === id)?.locked)) return "Locked channels are not keyed.";
  return `There is a key on frame ${String(frame)} already.`;
}

function driveChosen(edit: Edit, tell: Tell) {
  const chosen = chosenNow();
  if (chosen) void addFormula(edit, chosen.part, chosen.channel);
  else tell(NO_CHANNEL);
}

function handleTool(tool: HandleTool) {
  useShowing.setState(({ tool: now }) => ({ tool: now === tool ? "none" : tool }));
}

function toggleIsolated() {
  const { isolated } = useShowing.getState();
  if (isolated) showAll();
  else isolateParts(useSelection.getState().parts);
}

function chooseOpposite() {
  const { parts } = useOpenScene.getState();
  const found = useSelection.getState().parts.map((id) => parts[id]?.opposite ?? id);
  if (found.length === 1) choosePart(found[0] ?? null);
  else chooseParts(found);
}

function toKey(way: 1 | -1) {
  const { part, channel } = useSelection.getState();
  const found = part ? useOpenScene.getState().parts[part] : undefined;
  const chosen = found?.channels.find(({ id }) => id === channel);
  const layer = chosenLayer();
  const channels = chosen ? [chosen] : (found?.channels ?? []);
  const frames = wholeFrames(channels.flatMap((one) => keyedCurve(one, layer) ?? []));
  const { frame } = usePlayer.getState();
  const next = way > 0 ? frames.find((f) => f > frame) : frames.findLast((f) => f < frame);
  stop();
  if (next !== undefined) goTo(next);
}
