import { ink } from "../shared/theme";
import { useOpenScene } from "../state/openScene";
import { useSamples } from "../state/samples";
import { Ghost } from "./Ghost";
import { matrixAt } from "./matrix";
import { seenAt, seenName, worldName } from "./world";

const steps = [-12, -6, 6, 12];

/** The poses some frames before (slate) and after (teal) the playhead. */
export function OnionSkins() {
  const order = useOpenScene((scene) => scene.order);
  return steps.map((step) =>
    order.map((id) => (
      <Ghost
        key={`${id} ${String(step)}`}
        id={id}
        pale={step < 0 ? ink.key : ink.ahead}
        place={(into, playhead) => {
          const { blocks, first, last } = useSamples.getState();
          const frame = playhead + step;
          if (frame < first || frame > last || !seenAt(blocks[seenName(id)], frame, first)) return null;
          return matrixAt(blocks[worldName(id)], into, frame);
        }}
      />
    )),
  );
}
