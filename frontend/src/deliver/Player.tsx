import { PauseOutlined, CaretRightOutlined } from "@ant-design/icons";
import { Button, Slider } from "antd";
import { useMemo } from "react";

import { useOpenScene } from "../state/openScene";
import { fetchedLater } from "../shared/fetchedLater";
import { NumberField } from "../shared/NumberField";
import { ink } from "../shared/theme";
import type { Pose } from "../view/Poses";
import { View3D } from "../view/View3D";
import { worldName } from "../view/world";
import { again, showFrame, togglePlaying, useReceiver } from "./receiver";

// Among what is drawn in space there is no place for words.
const LookPoints = fetchedLater(async () => (await import("./LookPoints")).LookPoints, null, null);
const clock = { frame: () => useReceiver.getState().frame, subscribe: (changed: () => void) => useReceiver.subscribe(changed) };
const nothing: Pose = { blocks: {}, first: 0 };

/** What the receiver shows: the file, played at its own rate, as a program would that knows nothing of Bindu. */
export function Player({ ready }: { ready: boolean }) {
  const played = useReceiver((state) => state.played);
  const problem = useReceiver((state) => state.problem);
  const playing = useReceiver((state) => state.playing);
  const frame = useReceiver((state) => state.frame);
  const rate = useReceiver((state) => state.rate);
  const seconds = useReceiver((state) => state.seconds);
  const parts = useOpenScene((scene) => scene.parts);
  const poses = useMemo<[Pose, Pose]>(() => {
    const ids = Object.fromEntries(Object.values(parts).map(({ id, name }) => [name, id]));
    const blocks = Object.fromEntries(Object.entries(played?.blocks ?? {}).flatMap(([name, block]) => (ids[name] ? [[worldName(ids[name]), block]] : [])));
    return [nothing, { blocks, first: 0, clock }];
  }, [played, parts]);
  const now = frame / rate;
  const clip = played?.stretches.find(({ first, end }) => frame >= first && frame < end)?.clip;
  return (
    <div style={{ flex: 1, minHeight: 0, display: "flex", flexDirection: "column" }}>
      <div style={{ display: "flex", alignItems: "center", gap: 8, padding: "6px 14px", background: ink.panel, borderBottom: `1px solid ${ink.line}` }}>
        <strong>Receiver</strong>
        <span style={{ color: ink.quiet, flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{clip ? `plays ${clip}, as a program would that knows nothing of Bindu` : "plays the file as a program would that knows nothing of Bindu"}</span>
        <Button size="small" disabled={!played} aria-label={playing ? "Stop the receiver" : "Play in the receiver"} icon={playing ? <PauseOutlined /> : <CaretRightOutlined />} onClick={togglePlaying} />
        <NumberField label="Seconds of the receiver" value={seconds} text={`${String(seconds)} s`} step={1} width={52} onCommit={(value) => { useReceiver.setState({ seconds: Math.min(Math.max(value, 0.1), 120) }); again(); }} />
        <NumberField label="Rate of the receiver" value={rate} text={`${String(rate)} /s`} step={1} width={58} onCommit={(value) => { useReceiver.setState({ rate: Math.min(Math.max(value, 1), 240), frame: 0 }); again(); }} />
      </div>
      <div style={{ flex: 1, minHeight: 0, position: "relative" }}>
        {!ready ? (
          <p style={{ padding: "40px 24px", color: ink.quiet, maxWidth: 460 }}>Nothing to play yet. Bake on the left: the receiver then plays what leaves, and shows who has the last word on each part.</p>
        ) : problem ? (
          <p role="alert" style={{ padding: "40px 24px", color: ink.trouble, maxWidth: 460 }}>{problem}</p>
        ) : (
          <View3D focus={[]} poses={poses}><LookPoints /></View3D>
        )}
      </div>
      {played && (
        <div style={{ display: "flex", alignItems: "center", gap: 10, padding: "0 14px", background: ink.panel, borderTop: `1px solid ${ink.line}` }}>
          <Slider ariaLabelForHandle="Time of the receiver" style={{ flex: 1, margin: "8px 0" }} min={0} max={played.frames - 1} value={frame} tooltip={{ open: false }} onChange={showFrame} />
          <span className="mono" style={{ width: 64, textAlign: "right" }}>{now.toFixed(2)} s</span>
        </div>
      )}
    </div>
  );
}
