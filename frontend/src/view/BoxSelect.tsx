import type { Camera } from "three";
import { Matrix4, Vector3 } from "three";

import { useOpenScene } from "../state/openScene";
import { useSamples } from "../state/samples";
import { chooseParts, useSelection } from "../state/selection";
import { isDrawn, useShowing } from "../state/showing";
import { useEscape } from "../shared/useEscape";
import { useHeld } from "../shared/useHeld";
import { ink } from "../shared/theme";
import { matrixAt } from "./matrix";
import { isSeen, worldName } from "./world";

interface Props {
  camera: () => Camera | null;
  onDone: () => void;
}

/** Over the view while parts are chosen by a box: those whose middle lies in it. */
export function BoxSelect({ camera, onDone }: Props) {
  const { held, drawn: box, hold } = useHeld<{ x0: number; y0: number; x1: number; y1: number }>();
  const escape = useEscape();
  const giveUp = () => {
    escape.stop();
    hold(null);
    onDone();
  };
  const placeOf = (event: React.PointerEvent<HTMLDivElement>) => {
    const frame = event.currentTarget.getBoundingClientRect();
    return [event.clientX - frame.left, event.clientY - frame.top] as const;
  };
  const choose = (event: React.PointerEvent<HTMLDivElement>) => {
    const by = camera();
    if (!held.current || !by) return;
    const { width, height } = event.currentTarget.getBoundingClientRect();
    const found = partsIn(by, width, height, held.current);
    chooseParts(event.shiftKey ? [...new Set([...useSelection.getState().parts, ...found])] : found);
  };
  return (
    <div
      aria-label="Drag a box over parts"
      style={{ position: "absolute", inset: 0, cursor: "crosshair", touchAction: "none" }}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        const [x, y] = placeOf(event);
        event.currentTarget.setPointerCapture(event.pointerId);
        hold({ x0: x, y0: y, x1: x, y1: y });
        escape.watch(giveUp);
      }}
      onPointerCancel={giveUp}
      onPointerMove={(event) => {
        const [x1, y1] = placeOf(event);
        if (held.current) hold({ ...held.current, x1, y1 });
      }}
      onPointerUp={(event) => {
        if (!held.current) return;
        choose(event);
        giveUp();
      }}
    >
      {box && (
        <div
          style={{
            position: "absolute",
            left: Math.min(box.x0, box.x1),
            top: Math.min(box.y0, box.y1),
            width: Math.abs(box.x1 - box.x0),
            height: Math.abs(box.y1 - box.y0),
            border: `1px dashed ${ink.ink}`,
            background: `${ink.ink}14`,
          }}
        />
      )}
    </div>
  );
}

function partsIn(
  camera: Camera,
  width: number,
  height: number,
  box: { x0: number; y0: number; x1: number; y1: number },
): string[] {
  const { order, parts } = useOpenScene.getState();
  const { blocks } = useSamples.getState();
  const showing = useShowing.getState();
  const within = (at: number, a: number, b: number) => at >= Math.min(a, b) && at <= Math.max(a, b);
  return order.filter((id) => {
    const part = parts[id];
    const matrix = matrixAt(blocks[worldName(id)], new Matrix4());
    if (!part || !matrix || !isDrawn(showing, part) || !isSeen(id)) return false;
    const middle = new Vector3(...(part.shape.offset ?? [0, 0, 0])).applyMatrix4(matrix).project(camera);
    const [px, py] = [((middle.x + 1) / 2) * width, ((1 - middle.y) / 2) * height];
    return middle.z < 1 && within(px, box.x0, box.x1) && within(py, box.y0, box.y1);
  });
}
