import { Button, Space } from "antd";

import { useOpenScene } from "../state/openScene";
import { tryDriver, usePosing } from "../state/posing";
import { shown } from "../shared/format";
import { ink } from "../shared/theme";

/** What posing a stop means, and which poses wait to be captured. */
export function PoseNote() {
  const drafts = usePosing((posing) => posing.drafts);
  const stop = usePosing((posing) => posing.stop);
  const waiting = Object.keys(drafts).length;
  const means = "here, with handles, or on the Bench. What you change is held for that stop until you capture or discard it.";
  return (
    <p style={{ padding: "0 12px", color: ink.quiet, margin: "10px 0 14px" }}>
      {waiting
        ? `${String(waiting)} ${waiting === 1 ? "stop has" : "stops have"} a pose that is not captured yet.`
        : stop === null ? `Pick a stop first, then pose: ${means}` : `Pose the stop ${String(stop)}: ${means}`}
    </p>
  );
}

/** On the Bench while a stop is being posed, or a driver tried. */
export function PosingBanner() {
  const { stop, at, driven } = usePosing();
  const set = useOpenScene(({ header }) => header.driven.find(({ id }) => id === driven)?.name);
  if (at === null || set === undefined) return null;
  const posing = stop !== null;
  return (
    <Space role="status" style={{ padding: "4px 10px", background: ink.field, borderBottom: `1px dashed ${ink.quiet}`, fontSize: 12 }}>
      {posing
        ? <span>Posing the stop {stop} of <strong>{set}</strong>: changes of its rows are held until captured in Stops.</span>
        : <span>The driver of <strong>{set}</strong> is <strong>tried</strong> at {shown(at, "", 2)} on all frames, nothing of it is saved.</span>}
      <Button size="small" title={`The driver runs as it is keyed again${posing ? "; the pose is held" : ""}`} onClick={() => { tryDriver(null); }}>{posing ? "Leave" : "End trying"}</Button>
    </Space>
  );
}
