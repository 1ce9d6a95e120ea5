import { Button, Segmented, Space } from "antd";
import { useState } from "react";

import { useCommand } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";

type Over = "this frame" | "a span" | "keys of a span";

/** Switches limbs to FK or IK on a frame so that nothing jumps, and matches one to the other. */
export function SwitchLimbs({ limbs, onDone }: { limbs: string[]; onDone: () => void }) {
  const command = useCommand();
  const { first, last } = useOpenScene((scene) => scene.header);
  const [frame, setFrame] = useState(() => usePlayer.getState().frame);
  const [over, setOver] = useState(0);
  const [on, setOn] = useState<Over>("this frame");
  const [span, setSpan] = useState<[number, number]>([first, last]);
  const whole = (value: number) => Math.round(value);
  const switchTo = (way: "fk" | "ik") => void command(onDone, { do: "switch limbs", limbs, way, frame, over });
  const match = (way: "fk" | "ik") => {
    if (on === "this frame") return void command(onDone, { do: "match limbs", limbs, way, first: frame });
    return void command(onDone, { do: "match limbs", limbs, way, first: span[0], last: span[1], on: on === "a span" ? "every frame" : "keys" });
  };
  return (
    <div style={{ display: "grid", gap: 7, width: 292 }}>
      <span>
        Switch here, at frame <NumberField label="Frame of the switch" value={frame} text={String(frame)} step={1} width={50} onCommit={(value) => { setFrame(whole(value)); }} />{" "}
        over <NumberField label="Frames of the switch" value={over} text={String(over)} step={1} width={40} onCommit={(value) => { setOver(Math.max(0, whole(value))); }} /> frames
      </span>
      <Space size={5}>
        <Button size="small" type="primary" title="FK takes the pose as it is, and goes on from there" onClick={() => { switchTo("fk"); }}>to FK</Button>
        <Button size="small" type="primary" title="Goal and pole go where FK has the chain" onClick={() => { switchTo("ik"); }}>to IK</Button>
        <span style={{ color: ink.quiet, fontSize: 12 }}>nothing jumps; what is before stays</span>
      </Space>
      <div style={{ borderTop: `1px solid ${ink.line}`, paddingTop: 6, display: "grid", gap: 6 }}>
        <span>Match, and switch nothing:</span>
        <Segmented<Over> size="small" aria-label="On which frames to match" value={on} options={["this frame", "a span", "keys of a span"]} onChange={setOn} />
        {on !== "this frame" && (
          <span>
            from <NumberField label="Match from frame" value={span[0]} text={String(span[0])} step={1} width={50} onCommit={(value) => { setSpan([whole(value), span[1]]); }} />{" "}
            to <NumberField label="Match to frame" value={span[1]} text={String(span[1])} step={1} width={50} onCommit={(value) => { setSpan([span[0], whole(value)]); }} />
          </span>
        )}
        <Space size={5}>
          <Button size="small" title="Keys on the chain: FK takes the pose as it is" onClick={() => { match("fk"); }}>FK takes the pose</Button>
          <Button size="small" title="Keys on goal and pole: IK takes the FK pose" onClick={() => { match("ik"); }}>IK takes the FK pose</Button>
        </Space>
      </div>
    </div>
  );
}
