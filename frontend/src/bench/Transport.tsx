import { CaretRightFilled, PauseOutlined, RetweetOutlined, StepBackwardOutlined, StepForwardOutlined } from "@ant-design/icons";
import { App, Button, Space } from "antd";

import { useOpenScene } from "../state/openScene";
import { useKeys } from "../commands/shortcuts";
import { goTo, stepBy, togglePlay, usePlayer } from "../state/player";
import { shown } from "../shared/format";
import { Hint } from "../shared/Hint";
import { NumberField } from "../shared/NumberField";
import { ink } from "../shared/theme";
import { KeyState } from "./KeyState";
import { PlayWhat } from "./PlayWhat";
import { SceneSettings } from "./SceneSettings";

/** Playing, the frame, and the state of keying. */
export function Transport() {
  return (
    <div
      style={{
        display: "flex",
        alignItems: "center",
        gap: 6,
        padding: "5px 10px",
        borderBottom: `1px solid ${ink.line}`,
        whiteSpace: "nowrap",
        flexWrap: "wrap",
        flex: "none",
      }}
    >
      <PlayButtons />
      <PlayWhat />
      <FrameField />
      <Rate />
      <SceneSettings />
      <span style={{ flex: 1 }} />
      <KeyState />
    </div>
  );
}

function PlayButtons() {
  const keys = useKeys((all) => all.play);
  const playing = usePlayer((player) => player.playing);
  const loop = usePlayer((player) => player.loop);
  return (
    <Space size={4}>
      <Hint title="One frame back (←)">
        <Button size="small" aria-label="One frame back" icon={<StepBackwardOutlined />} onClick={() => { stepBy(-1); }} />
      </Hint>
      <Hint title={`${playing ? "Stop" : "Play"} (${keys})`}>
        <Button
          size="small"
          type="primary"
          aria-label={playing ? "Stop" : "Play"}
          icon={playing ? <PauseOutlined /> : <CaretRightFilled />}
          onClick={togglePlay}
        />
      </Hint>
      <Hint title={loop ? "Playing goes round" : "Playing ends at the last frame"}>
        <Button size="small" type={loop ? "default" : "text"} aria-label="Loop" aria-pressed={loop} icon={<RetweetOutlined />} onClick={() => { usePlayer.setState({ loop: !loop }); }} />
      </Hint>
      <Hint title="One frame on (→)">
        <Button size="small" aria-label="One frame on" icon={<StepForwardOutlined />} onClick={() => { stepBy(1); }} />
      </Hint>
    </Space>
  );
}

/** The only part of the row that is drawn again on every frame. */
function FrameField() {
  const frame = usePlayer((player) => player.frame);
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const { message } = App.useApp();
  const go = (wanted: number) => {
    goTo(wanted);
    if (wanted < first || wanted > last) void message.info(`The range is ${String(first)} to ${String(last)}: ${String(wanted)} is outside. Scene settings make it longer.`, 5);
  };
  return (
    <NumberField label="Frame" value={frame} text={String(frame)} step={1} width={46} stamp="playhead" onTry={goTo} onCancel={() => { goTo(frame); }} onCommit={go} />
  );
}

function Rate() {
  const last = useOpenScene((scene) => scene.header.last);
  const fps = useOpenScene((scene) => scene.header.fps);
  const rate = usePlayer((player) => (player.playing ? player.rate : 0));
  return (
    <span
      className="mono"
      title="The last frame, and the rate; while playing, the frames really shown each second"
      style={{ color: ink.quiet, fontSize: 12 }}
    >
      / {last} · {rate > 0 ? `${shown(rate, "", 1)}/` : ""}
      {fps} fps
    </span>
  );
}
