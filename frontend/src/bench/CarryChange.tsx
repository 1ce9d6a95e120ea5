import { useQuery } from "@tanstack/react-query";
import { Button, Segmented, Spin } from "antd";
import { memo, useEffect, useState } from "react";

import type { ChangedView, OneEdit } from "../api/client";
import { get, reason } from "../api/client";
import { cameAt, comeAgain } from "../state/arrival";
import { useKeyState } from "../state/keying";
import { useOpenScene, unitIn } from "../state/openScene";
import { stop, usePlayer } from "../state/player";
import { feed } from "../state/samples";
import { useCommand, useEdit } from "../state/useEdit";
import { Amount, Apply } from "../shared/Amount";
import { typed } from "../shared/arithmetic";
import { shown } from "../shared/format";
import { Popup } from "../shared/Popup";
import { ink } from "../shared/theme";
import { keepTryOuts } from "./commands";

type How = "as an offset" | "in the world";

/** What was changed on this frame, carried to more frames. */
export const CarryChange = memo(function CarryChange() {
  return (
    <Popup placement="top" title="Carry this frame’s change" content={(close) => <Carrying onDone={close} />}>
      <Button size="small" title="What you changed on this frame, carried to a span or to all frames, faded at its ends" onClick={stop}>carry…</Button>
    </Popup>
  );
});

function Carrying({ onDone }: { onDone: () => void }) {
  const edit = useEdit();
  const tried = useKeyState(({ tryOuts }) => tryOuts.length);
  if (!tried) return <Changed onDone={onDone} />;
  return (
    <div style={{ display: "grid", gap: 8, maxWidth: 330 }}>
      <span>{tried === 1 ? "One value is" : `${String(tried)} values are`} only tried. Keep what is tried, then carry it.</span>
      <Button size="small" type="primary" style={{ justifySelf: "start" }} onClick={() => { keepTryOuts(edit); }}>Keep</Button>
    </div>
  );
}

function Changed({ onDone }: { onDone: () => void }) {
  const frame = usePlayer((player) => player.frame);
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const since = cameAt();
  const { data, error } = useQuery({
    queryKey: ["changed", sceneId, frame, since, revision],
    queryFn: () => get<ChangedView>(`/api/scenes/${String(sceneId)}/changed?frame=${String(frame)}&since=${String(since)}`),
    gcTime: 0,
    retry: false,
  });
  if (error) return <span style={{ color: ink.trouble }}>{reason(error)}</span>;
  if (!data) return <Spin size="small" />;
  if (!data.channels.length) {
    return <div style={{ maxWidth: 330 }}>Nothing was changed on frame {frame} since you came to it. Change the pose here, by the view, a field or a key; then carry the change from here.</div>;
  }
  return <Wish frame={frame} channels={data.channels} onDone={onDone} />;
}

function Wish({ frame, channels, onDone }: { frame: number; channels: ChangedView["channels"]; onDone: () => void }) {
  const command = useCommand();
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const parts = useOpenScene((scene) => scene.parts);
  const [how, setHow] = useState<How>("as an offset");
  const [draft, setDraft] = useState({ first: String(first), last: String(last), fade_in: "8", fade_out: "8" });
  const read = (name: keyof typeof draft) => typed(draft[name], 0);
  const good = (Object.keys(draft) as (keyof typeof draft)[]).every((name) => read(name) !== undefined);
  const number = (name: keyof typeof draft) => Math.round(read(name) ?? 0);
  const made: OneEdit = {
    do: "carry change",
    frame,
    before: channels.map(({ part, channel, before }): [string, string, number] => [part, channel, before]),
    first: number("first"),
    last: number("last"),
    fade_in: number("fade_in"),
    fade_out: number("fade_out"),
    how,
  };
  const asked = JSON.stringify(made);
  useEffect(() => {
    feed.tryOut(good ? [JSON.parse(asked) as OneEdit] : []);
    return () => { feed.tryOut([]); };
  }, [asked, good]);
  const apply = () => { if (good) void command(() => { comeAgain(); onDone(); }, made); };
  const field = (name: keyof typeof draft, label: string) => (
    <Amount label={label} width={58} value={draft[name]} onChange={(text) => { setDraft({ ...draft, [name]: text }); }} onEnter={apply} />
  );
  const quiet = { color: ink.quiet };
  return (
    <div style={{ display: "grid", gap: 8, width: 350 }}>
      <div className="scroll" role="list" aria-label="What was changed" style={{ maxHeight: 110, fontSize: 12 }}>
        {channels.map(({ part, channel, name, before, after }) => (
          <div key={`${part}/${channel}`} role="listitem" style={{ display: "flex", gap: 8 }}>
            <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }} title={name}>{name}</span>
            <span className="mono">{shown(before, unitIn(parts, part, channel))} → {shown(after, unitIn(parts, part, channel))}</span>
          </div>
        ))}
      </div>
      <Segmented<How> size="small" aria-label="How it is carried" value={how} onChange={setHow} options={[{ value: "as an offset", label: <span title="Each channel moves by as much as it did here">as an offset</span> }, { value: "in the world", label: <span title="Each part moves as far, and turns by the turn, that it did here in the world, whatever carries it elsewhere">in the world</span> }]} />
      <div style={{ display: "grid", gridTemplateColumns: "auto auto auto auto 1fr", gap: 6, alignItems: "center" }}>
        <span style={quiet}>over</span>{field("first", "first frame")}<span style={quiet}>to</span>{field("last", "last frame")}
        <Button size="small" style={{ justifySelf: "end" }} title="The whole range" onClick={() => { setDraft({ ...draft, first: String(first), last: String(last) }); }}>All</Button>
        <span style={quiet}>fade in</span>{field("fade_in", "frames of the fade in")}<span style={quiet}>out</span>{field("fade_out", "frames of the fade out")}
        <Apply type="primary" good={good} title="As one edit" style={{ justifySelf: "end" }} onClick={apply}>Carry</Apply>
      </div>
      <span style={{ ...quiet, fontSize: 12 }}>The curves show it before it is saved. At an end of the range nothing fades.</span>
    </div>
  );
}
