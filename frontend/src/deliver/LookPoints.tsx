import { TransformControls } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { Object3D } from "three";

import { ink } from "../shared/theme";
import { inked } from "../view/Handles";
import { inputAt, inputsOf, tell, useReceiver } from "./receiver";

/** The places among the inputs as points that are dragged: what is dragged is told from the shown time on. */
export function LookPoints() {
  const setup = useReceiver((state) => state.setup);
  const places = useMemo(() => inputsOf(setup).filter(({ kind }) => kind === "place"), [setup]);
  return places.map(({ name }) => <LookPoint key={name} name={name} />);
}

function LookPoint({ name }: { name: string }) {
  const invalidate = useThree((three) => three.invalidate);
  const point = useMemo(() => new Object3D(), []);
  const busy = useRef(false);
  useEffect(() => {
    const put = () => {
      if (busy.current) return;
      const state = useReceiver.getState();
      const [x = 0, y = 0, z = 0] = ["x", "y", "z"].map((axis) => inputAt(state, `${name}.${axis}`));
      point.position.set(x, y, z);
      invalidate();
    };
    put();
    return useReceiver.subscribe(put);
  }, [name, point, invalidate]);
  const say = () => {
    if (!busy.current) return;
    for (const axis of ["x", "y", "z"] as const) tell(`${name}.${axis}`, Number(point.position[axis].toFixed(4)));
  };
  return (
    <>
      <primitive object={point}>
        <mesh>
          <sphereGeometry args={[0.05, 16, 12]} />
          <meshStandardMaterial color={ink.picked} />
        </mesh>
      </primitive>
      <TransformControls
        ref={inked}
        object={point}
        mode="translate"
        size={0.5}
        onMouseDown={() => { busy.current = true; }}
        onMouseUp={() => { say(); busy.current = false; }}
        onObjectChange={() => { say(); invalidate(); }}
      />
    </>
  );
}
