import { ink } from "../shared/theme";
import { OrbitControls } from "@react-three/drei";
import { Canvas, useFrame, useThree } from "@react-three/fiber";
import type { ReactNode } from "react";
import { useCallback, useEffect, useRef } from "react";
import type { OrbitControls as Controls } from "three-stdlib";
import type { Camera } from "three";
import { Box3, Matrix4, PerspectiveCamera, Vector3 } from "three";

import { useOpenScene } from "../state/openScene";
import { useShortcuts } from "../commands/shortcuts";
import { usePlayer } from "../state/player";
import { useSamples } from "../state/samples";
import { choosePart, useSelection } from "../state/selection";
import { useShowing } from "../state/showing";
import { SlipMarks } from "../kit/slip/SlipMarks";
import { Aid } from "./Aid";
import { BoxSelect } from "./BoxSelect";
import { cameras } from "./cameras";
import { depthAt, keepEye, keptEye } from "./eye";
import { Floor } from "./Floor";
import { Handles } from "./Handles";
import { LimbLines } from "./LimbLines";
import { matrixAt } from "./matrix";
import { OnionSkins } from "./OnionSkins";
import { Paced } from "./Paced";
import { PartBody } from "./PartBody";
import { PartPath } from "./PartPath";
import { Portrait } from "./Portrait";
import { useReferencePictures } from "./ReferencePictures";
import type { Pose } from "./Poses";
import { Poses } from "./Poses";
import { Surfaces } from "./Surfaces";
import { worldName } from "./world";

interface Props {
  focus?: string[];
  poses?: [Pose, Pose];
  camera: string;
  /** How often the camera was put where its name says. */
  turn: number;
  boxing: boolean;
  onBoxed: () => void;
  /** What else is drawn. */
  children?: ReactNode;
}

/** What is drawn in space; a module of its own, so that the rest of the Bench does not wait for what
 * draws it. */
export function Space({ focus, poses, camera, turn, boxing, onBoxed, children }: Props) {
  const small = focus !== undefined;
  const eye = useRef<Camera | null>(null);
  const grid = useShowing((showing) => showing.grid);
  const behind = useReferencePictures("behind").length > 0;
  // What is pinned behind the scene is seen through its sky.
  const through = behind && !small && !poses;
  return (
    <>
      <Canvas
        frameloop="demand"
        camera={{ position: [7, 6, 11], fov: 32, ...depthAt(0) }}
        onCreated={(three) => {
          eye.current = three.camera;
        }}
        onPointerMissed={(event) => {
          if (!event.ctrlKey && !event.shiftKey) choosePart(null);
        }}
      >
        {!through && <color attach="background" args={[ink.sky]} />}
        <ambientLight intensity={1.6} />
        <directionalLight position={[6, 10, 8]} intensity={1.6} />
        {grid && <Floor />}
        {poses ? <Poses poses={poses} /> : <Parts />}
        {!small && <Portrait />}
        {!poses && <Surfaces />}
        <Aid>
          {!small && <SlipMarks />}
          {!poses && <LimbLines />}
          {!poses && <Handles />}
          {children}
        </Aid>
        <OrbitControls makeDefault enableDamping={false} target={[0, 0.8, 0]} />
        <Placed name={camera} turn={turn} {...(focus ? { focus } : {})} {...(poses ? { poses } : {})} />
        <Paced />
        <Follow />
      </Canvas>
      {boxing && <BoxSelect camera={() => eye.current} onDone={onBoxed} />}
    </>
  );
}

function Parts() {
  const order = useOpenScene((scene) => scene.order);
  const chosen = useSelection((selection) => selection.parts);
  const paths = useShowing((showing) => showing.paths);
  const onionSkins = useShowing((showing) => showing.onionSkins);
  return (
    <>
      {order.map((id) => (
        <PartBody key={id} id={id} chosen={chosen.includes(id)} />
      ))}
      <Aid>
        {paths && chosen.filter((id) => order.includes(id)).map((id) => <PartPath key={id} part={id} />)}
        {onionSkins && <OnionSkins />}
      </Aid>
    </>
  );
}

/** Draws anew when the playhead or the numbers move. */
function Follow() {
  const invalidate = useThree((three) => three.invalidate);
  useEffect(() => {
    const again = () => { invalidate(); };
    const ends = [
      usePlayer.subscribe(again),
      useSamples.subscribe((now, before) => { if (now.arrivals !== before.arrivals) again(); }),
      useShowing.subscribe(again),
      useSelection.subscribe(again),
    ];
    return () => {
      for (const end of ends) end();
    };
  }, [invalidate]);
  return null;
}

/** Puts the camera where its name says, once the parts' places have come, so that all but props
 * are seen; frames the chosen parts on F. */
function Placed({ name, turn, focus, poses }: { name: string; turn: number; focus?: string[]; poses?: [Pose, Pose] }) {
  const get = useThree((three) => three.get);
  // Small views look at what they are about.
  const keeps = !focus && !poses;
  // They come after the first drawing.
  const turns = useThree((three) => three.controls !== null);
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const ready = useSamples(({ blocks }) => Object.keys(blocks).some((block) => block.endsWith("/world matrix/final")));
  const lookAt = useCallback(
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
  useEffect(() => {
    const { camera, controls } = get();
    const orbit = controls as unknown as Controls | null;
    if (!keeps || !orbit) return undefined;
    const keep = () => { keepEye({ sceneId, camera: name, position: camera.position.toArray(), target: orbit.target.toArray() }); };
    orbit.addEventListener("change", keep);
    return () => { orbit.removeEventListener("change", keep); };
  }, [get, keeps, turns, sceneId, name]);
  useFrame(({ camera, controls }) => {
    if (!controls || !(camera instanceof PerspectiveCamera)) return;
    const depth = depthAt(camera.position.distanceTo((controls as unknown as Controls).target));
    if (camera.far === depth.far) return;
    Object.assign(camera, depth);
    camera.updateProjectionMatrix();
  });
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
