import { useKeyState } from "../../state/keying";
import { chooseChannel } from "../../state/selection";

/** Chooses the curve of a lane: its channel, and the layer that it lies on, or the base. */
export function chooseLane(part: string, id: string) {
  const [layer, channel] = id.includes(":") ? (id.split(":") as [string, string]) : [null, id];
  chooseChannel(part, channel);
  useKeyState.setState({ layer });
}
