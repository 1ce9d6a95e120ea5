import { Button, Segmented, Space } from "antd";
import { useState } from "react";

import type { HandoverView, LaneView } from "../../state/order";
import { useOpenScene } from "../../state/openScene";
import { feed } from "../../state/samples";
import { useCommand, useEdit } from "../../state/useEdit";
import { usePlayer } from "../../state/player";
import { counted, shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { footEdit } from "../../kit/gaits/edits";
import { SwitchLimbs } from "../../ledger/limbs/SwitchLimbs";

type Keep = "offset" | "keys" | "jump";
const keepHints: Record<Keep, string> = {
  offset: "stays where it is, by an offset kept at the handover",
  keys: "stays where it is, by keys on this frame and the one before",
  jump: "goes to where its channels put it in the new space",
};

interface StripProps {
  lane: LaneView;
  choice: number;
  onDone: () => void;
}

/** What can follow on the playhead's frame. */
export function StripMenu(props: StripProps) {
  if (props.lane.kind === "limb") return <SwitchLimbs limbs={[props.lane.id]} onDone={props.onDone} />;
  if (props.lane.kind === "gait") return <LandsAt lane={props.lane} />;
  return <NextMenu {...props} />;
}

/** At which share of a cycle a foot lands. */
function LandsAt({ lane }: { lane: LaneView }) {
  const edit = useEdit();
  const gait = useOpenScene((scene) => scene.header.gaits.find(({ id }) => id === lane.id));
  const n = gait?.feet?.findIndex(({ part }) => part === lane.keys[0]) ?? -1;
  const phase = gait?.feet?.[n]?.phase ?? 0;
  if (!gait || n < 0) return null;
  return (
    <span>
      lands at{" "}
      <NumberField label="Phase of the foot" value={phase} text={shown(phase, "", 3)} step={0.05} width={56} onTry={(value) => { feed.tryOut([footEdit(gait, n, value)]); }} onCommit={(value) => void edit(footEdit(gait, n, value))} />
      {" "}of a cycle
    </span>
  );
}

/** Another space, or another lead. */
function NextMenu({ lane, choice, onDone }: StripProps) {
  const command = useCommand();
  const [frame, setFrame] = useState(() => usePlayer.getState().frame);
  const [keep, setKeep] = useState<Keep>("offset");
  const [blend, setBlend] = useState(0);
  const [leads, setLeads] = useState<"both" | "only this">("both");
  const hand = (n: number) => {
    const key = lane.keys[n] ?? "";
    if (lane.kind === "space") {
      void command(onDone, { do: "switch space", step: lane.id, frame, space: key, keep, blend });
      return;
    }
    const which = lane.channel.endsWith(".position") ? "position" : "rotation";
    const both: ("position" | "rotation")[] = leads === "both" ? ["position", "rotation"] : [which];
    void command(onDone, { do: "key lead", id: lane.id, frame, part: key || null, leads: both });
  };
  return (
    <div style={{ display: "grid", gap: 7, maxWidth: 290 }}>
      <span>
        {lane.kind === "space" ? "Hand over at frame " : "From frame "}
        <NumberField label="Frame of the change" value={frame} text={String(frame)} step={1} width={52} onCommit={(next) => { setFrame(Math.round(next)); }} />
        {lane.kind === "space" ? " to" : " on leads"}
      </span>
      <Space size={4} wrap>
        {lane.choices.map((name, n) => (
          <Button key={name} size="small" disabled={n === choice && lane.kind === "space"} onClick={() => { hand(n); }}>{name}</Button>
        ))}
      </Space>
      {lane.kind === "space" ? (
        <>
          <Segmented<Keep> size="small" aria-label="How the place is kept" value={keep} options={["offset", "keys", "jump"]} onChange={setKeep} />
          <span style={{ color: ink.quiet, fontSize: 12 }}>{keepHints[keep]}</span>
          <span>blend over <NumberField label="Frames of the blend" value={blend} text={String(blend)} step={1} width={52} onCommit={(next) => { setBlend(Math.round(next)); }} /> frames</span>
        </>
      ) : (
        <Segmented<"both" | "only this"> size="small" aria-label="Which lead" value={leads} options={["both", "only this"]} onChange={setLeads} />
      )}
    </div>
  );
}

interface ChangeProps {
  lane: LaneView;
  change: HandoverView;
  onDone: () => void;
}

/** What can be done with a change. */
export function HandoverMenu(props: ChangeProps) {
  return props.lane.kind === "limb" ? <SwitchMenu {...props} /> : <PlaceMenu {...props} />;
}

function jump({ metres, degrees }: HandoverView): string {
  return `${shown(metres, "m", 4)} and ${shown(degrees, "°")}`;
}

/** What can be done with a switch of a limb. */
function SwitchMenu({ lane, change, onDone }: ChangeProps) {
  const command = useCommand();
  const way = change.target === "FK" ? "fk" : "ik";
  const match = () => void command(onDone, { do: "mend switch", limb: lane.id, frame: change.frame });
  const remove = () => void command(onDone, { do: "remove switch", limb: lane.id, frame: change.frame });
  return (
    <div style={{ display: "grid", gap: 7, maxWidth: 280 }}>
      <span style={{ fontSize: 12, color: change.jumps ? ink.trouble : ink.quiet }}>
        {change.jumps ? `It jumps by ${jump(change)}: a key before it was changed since.` : "Both poses are one here: nothing jumps."}
      </span>
      <Space size={5} wrap>
        {change.jumps && <Button size="small" type="primary" title={way === "fk" ? "FK takes the pose that IK has here" : "Goal and pole take the FK pose here"} onClick={match}>Match here</Button>}
        <Button size="small" onClick={remove}>Delete the switch</Button>
      </Space>
      <span style={{ color: ink.quiet, fontSize: 12 }}>Drag the dot to another frame; it is matched there.</span>
    </div>
  );
}

/** What can be done with a handover, or a change of leads. */
function PlaceMenu({ lane, change, onDone }: ChangeProps) {
  const edit = useEdit();
  const done = (stored: boolean) => { if (stored) onDone(); };
  const remove = () => {
    if (lane.kind === "space") void edit({ do: "remove handover", step: lane.id, frame: change.frame }).then(done);
    else void edit({ do: "delete keys", picks: [{ part: lane.part, channel: lane.channel, frames: [change.frame] }] }).then(done);
  };
  const blendOver = (blend: number) => {
    const strip = lane.strips.find(({ first, last }) => first <= change.frame && change.frame <= last);
    const space = strip && lane.keys[strip.choice];
    if (space !== undefined) void edit({ do: "switch space", step: lane.id, frame: change.frame, space, blend: Math.round(blend) });
  };
  const jumping = lane.handovers.filter(({ jumps }) => jumps);
  const behind = lane.handovers.filter(({ frame }) => frame > change.frame);
  const from = [change, ...behind].map(({ frame }) => frame);
  return (
    <div style={{ display: "grid", gap: 7, maxWidth: 280 }}>
      {lane.kind === "space" && (
        <span style={{ fontSize: 12, color: change.jumps ? ink.trouble : ink.quiet }}>
          {change.jumps
            ? `It jumps by ${jump(change)}: something moved since.`
            : change.blend
              ? `Blends over ${counted(change.blend, "frame")}.`
              : "The place is kept."}
        </span>
      )}
      <Space size={5} wrap>
        {change.jumps && <Button size="small" type={behind.length ? "default" : "primary"} onClick={() => void edit({ do: "keep places", step: lane.id, frames: [change.frame] }).then(done)}>Keep the place again</Button>}
        {change.jumps && behind.length > 0 && <Button size="small" type="primary" onClick={() => void edit({ do: "keep places", step: lane.id, frames: from }).then(done)}>Here and at the {behind.length === 1 ? "one" : String(behind.length)} behind it</Button>}
        {jumping.length > 1 && <Button size="small" onClick={() => void edit({ do: "keep places", step: lane.id }).then(done)}>All {jumping.length} that jump</Button>}
        <Button size="small" onClick={remove}>Delete</Button>
      </Space>
      {change.jumps && behind.length > 0 && (
        <span style={{ fontSize: 12, color: ink.quiet }}>
          Kept here alone, the part comes to the handover at {behind[0]?.frame} from another place, and the jump moves there unless that one is kept too.
        </span>
      )}
      {lane.kind === "space" && (
        <span>blend over <NumberField label="Frames of its blend" value={change.blend} text={String(change.blend)} step={1} width={52} onCommit={blendOver} /> frames</span>
      )}
      <span style={{ color: ink.quiet, fontSize: 12 }}>Drag the dot to another frame.</span>
    </div>
  );
}
