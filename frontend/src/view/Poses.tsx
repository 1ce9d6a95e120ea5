import { useThree } from "@react-three/fiber";
import { useEffect } from "react";

import { useOpenScene } from "../state/openScene";
import type { Block } from "../state/samples";
import { ink } from "../shared/theme";
import { Ghost } from "./Ghost";
import { matrixAt } from "./matrix";
import { seenAt, seenName, worldName } from "./world";

/** World matrices and what is seen, by name, from the frame `first` on. */
export interface Pose {
  blocks: Record<string, Block>;
  first: number;
  /** The frame that is shown, where that is not the playhead's; and what tells of another one. */
  clock?: { frame: () => number; subscribe: (again: () => void) => () => void };
}

/** Two versions of the scene in one view: the first one pale, the second one in full. */
export function Poses({ poses: [pale, full] }: { poses: [Pose, Pose] }) {
  const order = useOpenScene((scene) => scene.order);
  const invalidate = useThree((three) => three.invalidate);
  useEffect(() => { invalidate(); }, [pale, full, invalidate]);
  useEffect(() => full.clock?.subscribe(() => { invalidate(); }), [full.clock, invalidate]);
  return [full, pale].map((pose) =>
    order.map((id) => (
      <Ghost
        key={`${id} ${pose === pale ? "pale" : "full"}`}
        id={id}
        {...(pose === pale ? { pale: ink.quiet } : {})}
        place={(into, playhead) => {
          const frame = pose.clock?.frame() ?? playhead;
          if (!seenAt(pose.blocks[seenName(id)], frame, pose.first)) return null;
          return matrixAt(pose.blocks[worldName(id)], into, frame, pose.first);
        }}
      />
    )),
  );
}
