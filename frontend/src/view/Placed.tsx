import { useFrame, useThree } from "@react-three/fiber";
import { useCallback, useEffect } from "react";
import type { OrbitControls as Controls } from "three-stdlib";
import { Box3, Matrix4, PerspectiveCamera, Vector3 } from "three";

import { useOpenScene } from "../state/openScene";
import { useShortcuts } from "../commands/shortcuts";
import { useSamples } from "../state/samples";
import { useSelection } from "../state/selection";
import { cameras } from "./cameras";
import { depthAt, keepEye, keptEye } from "./eye";
import { matrixAt } from "./matrix";
import type { Pose } from "./Poses";
import { useAllPlaced, worldName } from "./world";

interface Props {
  name: string;
  turn: number;
  focus?: string[];
  poses?: [Pose, Pose];
}

/** Puts the camera where its name says, once the parts' places have come, so that all but props
 * are seen; frames the chosen parts on F. */
export function Placed({ name, turn, focus, poses }: Props) {
  // Small views look at what they are about.
  const keeps = !focus && !poses;
  const get = useThree((three) => three.get);
  // They come after the first drawing.
  const turns = useThree((three) => three.controls !== null);
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const ready = useAllPlaced();
  const lookAt = useLookAt(poses);
  useEffect(() => {
    if (!ready || !turns) return;
    const before = keeps && turn === 0 ? keptEye(sceneId) : null;
    if (before) {
      const { camera, controls, invalidate } = get();
      camera.position.set(...before.position);
      (controls as unknown as Controls).target.set(...before.target);
      (controls as unknown as Controls).update();
      invalidate();
      return;
    }
    const { order, parts } = useOpenScene.getState();
    const near = focus?.filter((id) => parts[id]);
    const rig = near?.length ? near : order.filter((id) => parts[id]?.role !== "prop");
    lookAt(rig.length ? rig : order, new Vector3(...(cameras[name] ?? [0, 0, 1])));
  }, [get, keeps, ready, turns, sceneId, name, turn, focus, lookAt]);
  useKeptEye(keeps, name);
  useDepth();
  useShortcuts({
    frameAll: () => {
      const { camera, controls } = get();
      const orbit = controls as Controls | null;
      const { parts } = useSelection.getState();
      if (!orbit) return;
      const way = camera.position.clone().sub(orbit.target);
      lookAt(parts.length ? parts : useOpenScene.getState().order, way);
    },
  });
  return null;
}

/** Puts the camera so that it sees parts whole, from a way. */
function useLookAt(poses: [Pose, Pose] | undefined) {
  const get = useThree((three) => three.get);
  return useCallback(
    (parts: string[], way: Vector3) => {
      const { camera, controls, size } = get();
      const orbit = controls as Controls | null;
      const around = boxAround(parts, poses ?? [useSamples.getState()]);
      if (!orbit || around.isEmpty()) return;
      orbit.target.copy(around.getCenter(new Vector3()));
      const reach = Math.max(around.getSize(new Vector3()).length() * 1.1, 1.6);
      const narrow = Math.max(size.height / Math.max(size.width, 1), 1);
      camera.position.copy(orbit.target).addScaledVector(way.normalize(), reach * 1.7 * narrow);
      orbit.update();
      get().invalidate();
    },
    [get, poses],
  );
}

/** Keeps from where the scene is looked at, for when the view comes back. */
function useKeptEye(keeps: boolean, name: string) {
  const get = useThree((three) => three.get);
  const turns = useThree((three) => three.controls !== null);
  const sceneId = useOpenScene((scene) => scene.sceneId);
  useEffect(() => {
    const { camera, controls } = get();
    const orbit = controls as unknown as Controls | null;
    if (!keeps || !orbit) return undefined;
    const keep = () => { keepEye({ sceneId, camera: name, position: camera.position.toArray(), target: orbit.target.toArray() }); };
    orbit.addEventListener("change", keep);
    return () => { orbit.removeEventListener("change", keep); };
  }, [get, keeps, turns, sceneId, name]);
}

/** Draws near and far things as far as the camera is from what it looks at. */
function useDepth() {
  useFrame(({ camera, controls }) => {
    if (!controls || !(camera instanceof PerspectiveCamera)) return;
    const depth = depthAt(camera.position.distanceTo((controls as unknown as Controls).target));
    if (camera.far === depth.far) return;
    Object.assign(camera, depth);
    camera.updateProjectionMatrix();
  });
}

/** The box around parts in all of these poses, as large as their shapes. */
function boxAround(parts: string[], poses: Pose[]): Box3 {
  const around = new Box3();
  const scene = useOpenScene.getState();
  const places = poses.flatMap(({ blocks, first }) => parts.map((id) => [id, matrixAt(blocks[worldName(id)], new Matrix4(), undefined, first)] as const));
  for (const [id, place] of places) {
    const shape = scene.parts[id]?.shape;
    if (!shape || !place) continue;
    const size = new Vector3(...(shape.kind === "none" ? [0.3, 0.3, 0.3] : (shape.size ?? [1, 1, 1])) as [number, number, number]);
    const middle = new Vector3(...(shape.offset ?? [0, 0, 0]));
    around.union(new Box3().setFromCenterAndSize(middle, size).applyMatrix4(place));
  }
  return around;
}
