import type { ChannelView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { alikeChannels, keyedCurve, useChosenLayer, useKeyState } from "../../state/keying";
import { goTo, stop, usePlayer } from "../../state/player";
import { NearKeys } from "../../shared/NearKeys";
import { nearKeys } from "../../shared/near";
import { keyEdit } from "./edits";

interface Props {
  part: string;
  label: string;
  /** One channel, or those of a group. */
  channels: ChannelView[];
}

/** The keys near the playhead of a channel, or of a whole group; keys and unkeys it, and the channels
 * of the same name of all parts that are chosen with it. */
export function ChannelKeys({ part, label, channels }: Props) {
  const edit = useEdit();
  const layer = useChosenLayer();
  const now = usePlayer((player) => player.frame);
  const free = channels.filter((channel) => !channel.locked);
  const shown = free.length ? free : channels;
  const curves = shown.flatMap((channel) => keyedCurve(channel, layer) ?? []);
  // A tick says its share of all channels of the group, keyed or not.
  const share = curves.length / Math.max(shown.length, 1);
  const near = nearKeys(curves, now).map((one) => ({ ...one, share: one.share * share }));
  const base = layer === null ? [] : nearKeys(shown.flatMap(({ curve }) => curve ?? []), now);
  const go = (frame: number) => {
    stop();
    goTo(frame);
  };
  const toggle = () => void edit(keyEdit(free.flatMap((channel) => alikeChannels(part, channel)), now));
  return (
    <NearKeys
      label={label}
      near={near}
      now={now}
      curved={curves.length > 0}
      locked={!free.length}
      onHere={toggle}
      onGo={go}
      base={base}
      onBase={(frame) => {
        useKeyState.setState({ layer: null });
        go(frame);
      }}
    />
  );
}
