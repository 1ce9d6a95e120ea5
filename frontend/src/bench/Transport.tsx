import { CaretRightFilled, PauseOutlined, StepBackwardOutlined, StepForwardOutlined } from "@ant-design/icons";
import { Button, Checkbox, Space, Tooltip } from "antd";

import { useOpenScene } from "../state/openScene";
import { goTo, stepBy, togglePlay, usePlayer } from "../state/player";
import { shown } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { tapColour, tapInk, taps } from "../shared/taps";
import { ink } from "../theme";
import { SceneSettings } from "./SceneSettings";
import { toggleTap, useShownTaps } from "./curves/shownTaps";

/** Playing, the frame, and which taps the curves show. */
export function Transport() {
  return (
    <div
      style={{
        display: "flex",
        alignItems: "center",
        gap: 8,
        padding: "5px 12px",
        borderBottom: `1px solid ${ink.line}`,
        whiteSpace: "nowrap",
        overflow: "hidden",
        flex: "none",
      }}
    >
      <PlayButtons />
      <FrameField />
      <Rate />
      <SceneSettings />
      <span style={{ flex: 1 }} />
      <ShownTaps />
    </div>
  );
}

function PlayButtons() {
  const playing = usePlayer((player) => player.playing);
  return (
    <Space size={4}>
      <Tooltip title="One frame back (←)">
        <Button size="small" aria-label="One frame back" icon={<StepBackwardOutlined />} onClick={() => { stepBy(-1); }} />
      </Tooltip>
      <Tooltip title={playing ? "Stop (Space)" : "Play (Space)"}>
        <Button
          size="small"
          type="primary"
          aria-label={playing ? "Stop" : "Play"}
          icon={playing ? <PauseOutlined /> : <CaretRightFilled />}
          onClick={togglePlay}
        />
      </Tooltip>
      <Tooltip title="One frame on (→)">
        <Button size="small" aria-label="One frame on" icon={<StepForwardOutlined />} onClick={() => { stepBy(1); }} />
      </Tooltip>
    </Space>
  );
}

/** The only part of the row that is drawn again on every frame. */
function FrameField() {
  const frame = usePlayer((player) => player.frame);
  return (
    <NumberField label="Frame" value={frame} text={String(frame)} step={1} width={58} onTry={goTo} onCommit={goTo} />
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
      style={{ color: ink.quiet }}
    >
      / {last} · {rate > 0 ? `${shown(rate, "", 1)}/` : ""}
      {fps} fps
    </span>
  );
}

function ShownTaps() {
  const on = useShownTaps((state) => state.on);
  return taps.map((tap) => (
    <Checkbox
      key={tap}
      checked={on.includes(tap)}
      title={`Draw the value after ${tap}`}
      onChange={() => {
        toggleTap(tap);
      }}
      style={{ color: tapInk[tap], fontSize: 12, gap: 0 }}
    >
      <span style={{ borderBottom: `2px solid ${tapColour[tap]}` }}>{tap}</span>
    </Checkbox>
  ));
}
