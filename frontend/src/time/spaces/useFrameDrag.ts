import type { OneEdit } from "../../api/client";
import { feed } from "../../state/samples";
import { useEdit } from "../../state/useEdit";
import { useEscape } from "../../shared/useEscape";
import { useHeld } from "../../shared/useHeld";

interface FrameDrag {
  frameOf: (px: number) => number;
  /** By how many frames it is dragged now; null: it is not, or no more. */
  onDrag: (by: number | null) => void;
  edit: (by: number) => OneEdit;
  /** It was let go where it was taken. */
  onClick: () => void;
}

/** Lets something be dragged by whole frames: what that does is seen, saved when it is let go, and given up
 * by Esc. */
export function useFrameDrag({ frameOf, onDrag, edit, onClick }: FrameDrag) {
  const save = useEdit();
  const escape = useEscape();
  const { held, hold } = useHeld<{ px: number; by: number }>();
  const end = () => {
    escape.stop();
    hold(null);
    onDrag(null);
  };
  const giveUp = () => {
    end();
    feed.tryOut([]);
  };
  return {
    onPointerDown: (event: React.PointerEvent) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      hold({ px: event.clientX, by: 0 });
      onDrag(0);
      escape.watch(giveUp);
    },
    onPointerMove: (event: React.PointerEvent) => {
      const taken = held.current;
      if (!taken) return;
      const by = Math.round(frameOf(event.clientX) - frameOf(taken.px));
      if (by === taken.by) return;
      hold({ ...taken, by });
      onDrag(by);
      feed.tryOut(by ? [edit(by)] : []);
    },
    onPointerUp: () => {
      const taken = held.current;
      if (!taken) return;
      end();
      if (taken.by) void save(edit(taken.by));
      else {
        feed.tryOut([]);
        onClick();
      }
    },
    onPointerCancel: giveUp,
  };
}
