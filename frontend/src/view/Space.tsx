import { ink } from "../shared/theme";
import { OrbitControls } from "@react-three/drei";
import { Canvas, useThree } from "@react-three/fiber";
import type { ReactNode } from "react";
import { useEffect, useRef } from "react";
import type { Camera } from "three";

import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { useSamples } from "../state/samples";
import { choosePart, useSelection } from "../state/selection";
import { useShowing } from "../state/showing";
import { SlipMarks } from "../kit/slip/SlipMarks";
import { Aid } from "./Aid";
import { BoxSelect } from "./BoxSelect";
import { depthAt } from "./eye";
import { Floor } from "./Floor";
import { Handles } from "./Handles";
import { LimbLines } from "./LimbLines";
import { OnionSkins } from "./OnionSkins";
import { Paced } from "./Paced";
import { PartBody } from "./PartBody";
import { PartPath } from "./PartPath";
import { Placed } from "./Placed";
import { Portrait } from "./Portrait";
import { useReferencePictures } from "./ReferencePictures";
import type { Pose } from "./Poses";
import { Poses } from "./Poses";
import { Surfaces } from "./Surfaces";

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
