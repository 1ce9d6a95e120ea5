import { Button, Select, Space as Row } from "antd";
import type { ReactNode } from "react";
import { Component, useState } from "react";

import { useOpenScene } from "../state/openScene";
import { useWants } from "../state/samples";
import { fetchedLater } from "../shared/fetchedLater";
import { ink } from "../shared/theme";
import { cameras } from "./cameras";
import { keptEye } from "./eye";
import type { Pose } from "./Poses";
import { PicturesBehind, PicturesBeside } from "./ReferencePictures";
import { ViewBar } from "./ViewBar";

const Space = fetchedLater(async () => (await import("./Space")).Space);
const start = "Front-right";

/** Whether this browser draws in space at all. */
const draws = Boolean(document.createElement("canvas").getContext("webgl2"));
/** The numbers that it draws by: of all parts. */
const drawnBy = draws ? ["*/world matrix/final", "*/seen/final"] : [];

/** The scene in space, or small and near to some parts of it, with other poses in place of the
 * present one, and with what else `children` draw in space. It draws what the server computed and plays without asking it. */
export function View3D({ focus, poses, children }: { focus?: string[]; poses?: [Pose, Pose]; children?: ReactNode }) {
  const small = focus !== undefined;
  const pinned = !small && !poses;
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const [camera, setCamera] = useState(() => (pinned ? keptEye(sceneId)?.camera : undefined) ?? start);
  const [turn, setTurn] = useState(0);
  const [boxing, setBoxing] = useState(false);
  useWants(drawnBy);
  return (
    <div style={{ position: "relative", flex: 1, minWidth: 0, height: "100%", background: ink.sky }} aria-label="View" role="region" data-landmark tabIndex={-1}>
      {pinned && <PicturesBehind />}
      <NoView>
        {draws ? <Space {...{ camera, turn, boxing }} {...(focus ? { focus } : {})} {...(poses ? { poses } : {})} onBoxed={() => { setBoxing(false); }}>{children}</Space> : <NoSpace />}
      </NoView>
      {pinned && <PicturesBeside />}
      <div style={{ position: "absolute", insetInline: "6px 10px", display: "flex", flexWrap: "wrap", gap: 5, justifyContent: "space-between", pointerEvents: "none", ...(small ? { bottom: 6 } : { top: 10 }) }} className="over-view">
      {!small && (
        <Row size={4}>
          <Select
            size="small"
            aria-label="Camera"
            style={{ width: 104 }}
            value={camera}
            options={Object.keys(cameras).map((value) => ({ value, label: value }))}
            onChange={(name) => {
              setCamera(name);
              setTurn((n) => n + 1);
            }}
          />
          <Button size="small" title="Shows all parts, from the camera’s side; F shows the chosen ones" onClick={() => { setTurn((n) => n + 1); }}>all</Button>
        </Row>
      )}
      {!poses && <ViewBar small={small} boxing={boxing} onBox={() => { setBoxing(!boxing); }} />}
      </div>
    </div>
  );
}

/** Where the browser cannot draw in space, it says so and the rest of the Bench works. */
class NoView extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  override render() {
    if (!this.state.failed) return this.props.children;
    return <NoSpace />;
  }
}

function NoSpace() {
  return (
    <p style={{ margin: 0, padding: "60px 24px", color: ink.quiet }}>
      This browser cannot draw in space (WebGL is off). Curves, channels and ledger work without.
    </p>
  );
}
