import { OrbitControls } from "@react-three/drei";
import { Canvas, useThree } from "@react-three/fiber";
import { Select } from "antd";
import { Component, useEffect, useMemo, useState } from "react";
import type { ReactNode } from "react";
import type { OrbitControls as Controls } from "three-stdlib";
import { Box3, Color, Vector3 } from "three";

import { useOpenScene } from "../../state/openScene";
import { useShortcuts } from "../../shell/shortcuts";
import { usePlayer } from "../../state/player";
import { useSamples, useWants } from "../../state/samples";
import { choosePart, useSelection } from "../../state/selection";
import { ink } from "../../theme";
import { PartBody } from "./PartBody";
import { PartPath } from "./PartPath";
import { matrixAt, worldName } from "./world";

const cameras: Record<string, [number, number, number]> = {
  "Front-right": [7, 6, 11],
  Front: [0, 1.2, 14],
  Side: [14, 1.2, 0.01],
  Top: [0, 16, 0.01],
};
const start = "Front-right";

/** The scene in space. It draws what the server computed and plays without asking it. */
export function View3D() {
  const [camera, setCamera] = useState(start);
  const [turn, setTurn] = useState(0);
  useWants(useMemo(() => ["*/world matrix/final"], []));
  return (
    <div style={{ position: "relative", height: "100%", background: "#F1F2EC" }} aria-label="View" role="region">
      <NoView>
        <Canvas
          frameloop="demand"
          camera={{ position: cameras[start] ?? [7, 6, 11], fov: 32, near: 0.05, far: 500 }}
          onPointerMissed={() => {
            choosePart(null);
          }}
        >
          <color attach="background" args={["#F1F2EC"]} />
          <ambientLight intensity={1.6} />
          <directionalLight position={[6, 10, 8]} intensity={1.6} />
          <gridHelper args={[40, 40, new Color("#C9CFC6"), new Color("#DFE2D9")]} />
          <Parts />
          <OrbitControls makeDefault enableDamping={false} target={[0, 0.8, 0]} />
          <Placed name={camera} turn={turn} />
          <Follow />
        </Canvas>
      </NoView>
      <Select
        size="small"
        aria-label="Camera"
        style={{ position: "absolute", left: 10, top: 10, width: 118 }}
        value={camera}
        options={Object.keys(cameras).map((value) => ({ value, label: value }))}
        onChange={(name) => {
          setCamera(name);
          setTurn((n) => n + 1);
        }}
      />
    </div>
  );
}

function Parts() {
  const order = useOpenScene((scene) => scene.order);
  const chosen = useSelection((selection) => selection.part);
  return (
    <>
      {order.map((id) => (
        <PartBody key={id} id={id} chosen={id === chosen} />
      ))}
      {chosen && order.includes(chosen) && <PartPath part={chosen} />}
    </>
  );
}

/** Draws anew when the playhead or the numbers move. */
function Follow() {
  const invalidate = useThree((three) => three.invalidate);
  useEffect(() => {
    const again = () => {
      invalidate();
    };
    // Curves and values first: after an edit the view follows one frame behind them.
    let frame = 0;
    const afterwards = () => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        frame = requestAnimationFrame(again);
      });
    };
    const ends = [usePlayer.subscribe(again), useSamples.subscribe(afterwards)];
    return () => {
      cancelAnimationFrame(frame);
      for (const end of ends) end();
    };
  }, [invalidate]);
  return null;
}

/** Puts the camera where its name says, and frames the chosen part on F. */
function Placed({ name, turn }: { name: string; turn: number }) {
  const { camera, controls, invalidate } = useThree();
  useEffect(() => {
    camera.position.set(...(cameras[name] ?? [7, 6, 11]));
    const orbit = controls as Controls | null;
    orbit?.target.set(0, 0.8, 0);
    orbit?.update();
    invalidate();
  }, [name, turn, camera, controls, invalidate]);
  useShortcuts({
    frameAll: () => {
      const orbit = controls as Controls | null;
      const { part } = useSelection.getState();
      const place = part ? matrixAt(useSamples.getState().blocks[worldName(part)]) : null;
      if (!orbit || !place) return;
      const centre = new Vector3().setFromMatrixPosition(place);
      const around = new Box3().setFromCenterAndSize(centre, new Vector3(1, 1, 1));
      const way = camera.position.clone().sub(orbit.target).normalize();
      orbit.target.copy(around.getCenter(new Vector3()));
      camera.position.copy(orbit.target).addScaledVector(way, 6);
      orbit.update();
      invalidate();
    },
  });
  return null;
}

/** Where the browser cannot draw in space, it says so and the rest of the Bench works. */
class NoView extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  override render() {
    if (!this.state.failed) return this.props.children;
    return (
      <p style={{ padding: "60px 24px", color: ink.quiet }}>
        This browser cannot draw in space (WebGL is off). Curves, channels and ledger work without.
      </p>
    );
  }
}
