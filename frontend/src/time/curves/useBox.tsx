import type { KeyPick } from "../../state/selection";
import { addKeys, chooseKeys } from "../../state/selection";
import { useEscape } from "../../shared/useEscape";
import { useHeld } from "../../shared/useHeld";
import { ink } from "../../shared/theme";

interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  add: boolean;
}

/** Dragging on the empty plane chooses the keys in a box, of all curves; a click chooses none. */
export function useBox(picksIn: (inside: (x: number, y: number) => boolean) => KeyPick[]) {
  const { held, drawn: box, hold } = useHeld<Box>();
  const escape = useEscape();
  const giveUp = () => {
    escape.stop();
    hold(null);
  };
  const placeOf = (event: React.PointerEvent<SVGSVGElement>) => {
    const frame = event.currentTarget.getBoundingClientRect();
    return [event.clientX - frame.left, event.clientY - frame.top] as const;
  };
  const handlers = {
    onPointerDown: (event: React.PointerEvent<SVGSVGElement>) => {
      if (event.button !== 0 || event.target !== event.currentTarget) return;
      if (!event.isPrimary) {
        // A second finger: the plane is zoomed.
        giveUp();
        return;
      }
      const [px, py] = placeOf(event);
      event.currentTarget.setPointerCapture(event.pointerId);
      hold({ x0: px, y0: py, x1: px, y1: py, add: event.shiftKey });
      escape.watch(giveUp);
    },
    onPointerMove: (event: React.PointerEvent<SVGSVGElement>) => {
      const now = held.current;
      if (!now) return;
      const [px, py] = placeOf(event);
      hold({ ...now, x1: px, y1: py });
    },
    onPointerCancel: giveUp,
    onPointerUp: () => {
      escape.stop();
      const now = held.current;
      if (!now) return;
      hold(null);
      const within = (at: number, a: number, b: number) => at >= Math.min(a, b) && at <= Math.max(a, b);
      const picks = picksIn((x, y) => within(x, now.x0, now.x1) && within(y, now.y0, now.y1));
      if (now.add) addKeys(picks);
      else chooseKeys(picks);
    },
  };
  const drawn = box && (
    <rect
      x={Math.min(box.x0, box.x1)}
      y={Math.min(box.y0, box.y1)}
      width={Math.abs(box.x1 - box.x0)}
      height={Math.abs(box.y1 - box.y0)}
      fill={ink.ink}
      fillOpacity="0.08"
      stroke={ink.ink}
      strokeDasharray="3 2"
      pointerEvents="none"
    />
  );
  return { handlers, drawn };
}
