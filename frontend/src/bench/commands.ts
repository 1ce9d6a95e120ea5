import type { PartView } from "../api/client";
import { useShortcuts } from "../shell/shortcuts";
import { useEdit } from "../shell/useEdit";
import { useOpenScene } from "../state/openScene";
import { goTo, stepBy, stop, togglePlay, usePlayer } from "../state/player";
import { chooseKeys, useSelection } from "../state/selection";
import { dotEdit } from "./channels/edits";

/** The commands of the Bench that have a key of the keyboard. */
export function useBenchCommands() {
  const edit = useEdit();
  const chosen = () => {
    const { part, channel, step, keys } = useSelection.getState();
    const found = part ? useOpenScene.getState().parts[part] : undefined;
    return { part: found, channel: found?.channels.find(({ id }) => id === channel), step, keys };
  };
  const toKey = (way: 1 | -1) => {
    const { part, channel } = chosen();
    const frames = channel ? framesOf([channel]) : framesOf(part?.channels ?? []);
    const { frame } = usePlayer.getState();
    const next = way > 0 ? frames.find((f) => f > frame) : frames.findLast((f) => f < frame);
    stop();
    if (next !== undefined) goTo(next);
  };
  useShortcuts({
    play: togglePlay,
    back: () => { stepBy(-1); },
    forth: () => { stepBy(1); },
    keyBack: () => { toKey(-1); },
    keyForth: () => { toKey(1); },
    dot: () => {
      const { part, channel } = chosen();
      const { frame } = usePlayer.getState();
      const here = channel?.curve?.keys.some((key) => key.frame === frame);
      if (part && channel && !here) void edit(dotEdit(part.id, channel, frame));
    },
    remove: () => {
      const { part, channel, keys } = chosen();
      if (!part || !channel || !keys.length) return;
      chooseKeys([]);
      void edit({ do: "remove keys", part: part.id, channel: channel.id, frames: keys });
    },
    mute: () => {
      const { part, step } = chosen();
      const found = part?.steps.find(({ id }) => id === step);
      if (found) void edit({ do: "change step", step: found.id, on: !found.on });
    },
  });
}

function framesOf(channels: PartView["channels"]): number[] {
  const frames = channels.flatMap(({ curve }) => curve?.keys.map((key) => key.frame) ?? []);
  return [...new Set(frames)].sort((a, b) => a - b);
}
