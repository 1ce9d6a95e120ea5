import type { ChannelView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { Dot } from "../../shared/Dot";
import { chosenLayer, keyedCurve, keyedId, useKeyState } from "../../state/keying";
import { usePlayer } from "../../state/player";

interface Props {
  part: string;
  group: string;
  /** The channels of the group. */
  channels: ChannelView[];
}

/** The dot of a whole group: keys or unkeys all its channels on this frame. */
export function GroupDot({ part, group, channels }: Props) {
  const edit = useEdit();
  const layer = useKeyState((keying) => keying.layer);
  const free = channels.filter((channel) => !channel.locked);
  const keyed = usePlayer(({ frame }) =>
    free.filter((one) => keyedCurve(one, layer)?.keys.some((key) => key.frame === frame)).length,
  );
  const curves = free.some((channel) => keyedCurve(channel, layer));
  const all = free.length > 0 && keyed === free.length;
  const toggle = () => {
    const { frame } = usePlayer.getState();
    const picks = free.map((one) => ({ part, channel: keyedId(one, chosenLayer()), frames: [frame] }));
    const refs = free.map((one): [string, string] => [part, one.id]);
    void edit(
      all
        ? { do: "delete keys", picks }
        : { do: "key channels", frame, channels: refs, layer: chosenLayer() },
    );
  };
  const state = !free.length ? "locked" : all ? "key" : curves ? "curve" : "none";
  return <Dot state={state} label={`all ${group}`} onClick={toggle} />;
}
