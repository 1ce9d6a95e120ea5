import { Button, Space } from "antd";

import { usePosing } from "../state/posing";
import { ink } from "../shared/theme";

/** What posing a stop means, and which poses wait to be captured. */
export function PoseNote() {
  const drafts = usePosing((posing) => posing.drafts);
  const waiting = Object.keys(drafts).length;
  return (
    <p style={{ padding: "0 12px", color: ink.quiet, margin: "10px 0 14px" }}>
      {waiting
        ? `${String(waiting)} ${waiting === 1 ? "stop has" : "stops have"} a pose that is not captured yet.`
        : "Pick a stop first, then pose: here, with handles, or on the Bench. What you change is held for that stop until you capture or discard it."}
    </p>
  );
}

/** On the Bench while a stop is being posed. */
export function PosingBanner() {
  const { stop, driven } = usePosing();
  if (stop === null || driven === null) return null;
  return (
    <Space role="status" style={{ padding: "4px 10px", background: ink.field, border: `1px solid ${ink.line}`, borderRadius: 6, fontSize: 12 }}>
      Posing the stop {stop}: changes of its rows are held until captured in Stops.
      <Button size="small" onClick={() => { usePosing.setState({ stop: null }); }}>Leave</Button>
    </Space>
  );
}
