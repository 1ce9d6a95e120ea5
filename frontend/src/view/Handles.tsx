import { TransformControls } from "@react-three/drei";
import { useFrame, useThree } from "@react-three/fiber";
import { useMemo, useRef, useState } from "react";
import type { BufferGeometry, Mesh, MeshBasicMaterial } from "three";
import type { TransformControls as Controls } from "three-stdlib";
import { Matrix4, Object3D, Quaternion, Vector3 } from "three";

import { useEdit } from "../state/useEdit";
import { ink } from "../shared/theme";
import { useEscape } from "../shared/useEscape";
import { leadEdits } from "../state/leading";
import { useOpenScene, usePart } from "../state/openScene";
import { feed, useSamples } from "../state/samples";
import { useSelection } from "../state/selection";
import type { HandleAxes, HandleTool } from "../state/showing";
import { useShowing } from "../state/showing";
import type { Place, Vector } from "./place";
import { givePlace, placeEdit } from "./place";
import { matrixAt } from "./matrix";
import { worldName } from "./world";

/** Handles on the part chosen last: dragging shows what it does, letting go saves it. */
export function Handles() {
  const { tool, axes, snap } = useShowing();
  const part = usePart(useSelection((selection) => selection.part));
  const invalidate = useThree((three) => three.invalidate);
  const [proxy] = useState(() => new Object3D());
  const used = useMemo(() => new Matrix4(), []);
  const { busy, ...drag } = useHandleDrag(proxy, tool);

  useFrame(() => {
    if (part && !busy()) placeProxy(proxy, part.id, part.parent, axes, used);
  });
  if (!part || tool === "none" || !useOpenScene.getState().parts[part.id]) return null;
  return (
    <>
      <primitive object={proxy} />
      <TransformControls
        ref={inked}
        object={proxy}
        mode={modes[tool]}
        space="local"
        size={1}
        translationSnap={snap ? 0.1 : null}
        rotationSnap={snap ? Math.PI / 36 : null}
        scaleSnap={snap ? 0.1 : null}
        onMouseDown={drag.begin}
        onObjectChange={() => {
          drag.move();
          invalidate();
        }}
        onMouseUp={drag.end}
      />
    </>
  );
}

const modes = { move: "translate", turn: "rotate", scale: "scale" } as const;

/** What dragging the handles does; Esc gives it up. While it is busy the handles stay where they are dragged to. */
function useHandleDrag(proxy: Object3D, tool: HandleTool) {
  const edit = useEdit();
  const escape = useEscape();
  const invalidate = useThree((three) => three.invalidate);
  const start = useRef({ at: new Vector3(), turn: new Quaternion(), busy: false });
  const rest = () => {
    start.current.busy = false;
    invalidate();
  };
  // The controls go on dragging until the button is let go; nothing listens to them any more.
  const giveUp = () => {
    feed.tryOut([]);
    rest();
  };
  return {
    busy: () => start.current.busy,
    begin: () => {
      escape.watch(giveUp);
      start.current.at.copy(proxy.position);
      start.current.turn.copy(proxy.quaternion);
      start.current.busy = true;
    },
    move: () => {
      const made = changeSince(start.current, proxy, tool);
      if (made && start.current.busy) feed.tryOut([...leadEdits(made.parts, made.frame), made]);
    },
    end: () => {
      escape.stop();
      if (!start.current.busy) return;
      const made = changeSince(start.current, proxy, tool);
      if (made) void givePlace(edit, made).then(rest);
      else rest();
    },
  };
}

/** How far the handles were moved, turned or scaled, along their own axes; null where nothing changed. */
function changeSince(start: { at: Vector3; turn: Quaternion }, proxy: Object3D, tool: HandleTool): Place | null {
  const back = start.turn.clone().invert();
  if (tool === "move") {
    const way = proxy.position.clone().sub(start.at).applyQuaternion(back);
    return way.lengthSq() ? placeEdit({ move: rounded(way, 6) }) : null;
  }
  if (tool === "scale") return placeEdit({ size: rounded(proxy.scale, 5) });
  const turn = back.multiply(proxy.quaternion);
  if (turn.w < 0) turn.set(-turn.x, -turn.y, -turn.z, -turn.w);
  const half = Math.acos(Math.min(turn.w, 1));
  if (half < 1e-7) return null;
  const axis = new Vector3(turn.x, turn.y, turn.z).normalize();
  return placeEdit({ turn: rounded(axis.multiplyScalar((half * 360) / Math.PI), 4) });
}

/** The axes in the colours that they have everywhere, in the place of the stock ones. */
export function inked(controls: Controls | null) {
  controls?.traverse((one) => {
    const { material } = one as Partial<Mesh<BufferGeometry, MeshBasicMaterial>>;
    const colour = material && inks[material.color.getHexString()];
    if (colour) material.color.set(colour);
  });
}

const inks: Record<string, string> = {
  ff0000: ink.axis.x,
  "00ff00": ink.axis.y,
  "0000ff": ink.axis.z,
  ffff00: ink.picked,
  "00ffff": ink.picked,
  ff00ff: ink.picked,
};

/** Puts the handles on a part, along the chosen axes. */
function placeProxy(proxy: Object3D, id: string, parent: string | null, axes: HandleAxes, used: Matrix4) {
  const { blocks } = useSamples.getState();
  if (!matrixAt(blocks[worldName(id)], used)) return;
  used.decompose(proxy.position, proxy.quaternion, proxy.scale);
  if (axes === "world" || (axes === "parent" && !parent)) proxy.quaternion.identity();
  else if (axes === "parent" && matrixAt(blocks[worldName(parent ?? "")], used)) {
    used.decompose(new Vector3(), proxy.quaternion, new Vector3());
  }
  proxy.scale.set(1, 1, 1);
  proxy.updateMatrixWorld();
}

function rounded({ x, y, z }: Vector3, digits: number): Vector {
  const to = (value: number) => Number(value.toFixed(digits));
  return [to(x), to(y), to(z)];
}
