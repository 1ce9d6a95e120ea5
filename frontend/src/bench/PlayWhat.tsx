import { Button, Input, Segmented, Space } from "antd";
import { useState } from "react";

import { useOpenScene } from "../state/openScene";
import { playWhat, usePlayer } from "../state/player";
import { playedRange } from "../state/playWhat";
import { typed } from "../shared/arithmetic";
import { Popup } from "../shared/Popup";
import { ink } from "../shared/theme";

const shows = ["every frame", "keys", 2, 3, 4] as const;

/** What playing shows: every frame, only keys, on twos …, all or a section. Nothing is changed by it. */
export function PlayWhat() {
  const what = usePlayer((player) => player.what);
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const [from, to] = playedRange(what, first, last);
  const said = what.show === "every frame" ? "" : what.show === "keys" ? "keys" : `on ${String(what.show)}s`;
  const section = what.section ? `${String(from)}–${String(to)}` : "";
  return (
    // A click leaves the keyboard with the Bench, so that Space plays at once.
    <Popup title="Play" content={(close) => <Choices key={section} from={from} to={to} onDone={close} />}>
      <Button size="small" aria-label="What playing shows" onMouseDown={(event) => { event.preventDefault(); }} type={said || section ? "default" : "text"} style={said || section ? {} : { padding: "0 4px" }} title="What playing shows: every frame, only keys, on twos; all or a section">
        {[said, section, "▾"].filter(Boolean).join(" ")}
      </Button>
    </Popup>
  );
}

function Choices({ from, to, onDone }: { from: number; to: number; onDone: () => void }) {
  const what = usePlayer((player) => player.what);
  const [draft, setDraft] = useState([String(from), String(to)]);
  const [a, b] = [typed(draft[0] ?? "", from), typed(draft[1] ?? "", to)];
  const good = a !== undefined && b !== undefined;
  const take = () => {
    if (!good) return;
    playWhat({ ...what, section: [Math.round(a), Math.round(b)] });
    onDone();
  };
  return (
    <div style={{ display: "grid", gap: 8 }}>
      <Segmented
        size="small"
        aria-label="What playing shows"
        value={what.show}
        onChange={(show) => { playWhat({ ...what, show }); }}
        options={shows.map((value) => ({ value, label: typeof value === "number" ? `on ${String(value)}s` : value === "keys" ? "only keys" : value }))}
      />
      <Space size={6}>
        <span style={{ color: ink.quiet }}>section</span>
        {[0, 1].map((n) => (
          <Input
            key={n}
            size="small"
            className="mono"
            aria-label={n ? "last frame of the section" : "first frame of the section"}
            aria-invalid={(n ? b : a) === undefined}
            status={(n ? b : a) === undefined ? "error" : ""}
            style={{ width: 60 }}
            value={draft[n] ?? ""}
            onChange={(event) => { setDraft(draft.map((old, m) => (m === n ? event.target.value : old))); }}
            onPressEnter={take}
          />
        ))}
        <Button size="small" disabled={!good} title={good ? "Plays these frames" : "Both take a frame"} onClick={take}>Only these</Button>
        <Button size="small" disabled={!what.section} title={what.section ? "Plays the whole range" : "It plays the whole range"} onClick={() => { playWhat({ ...what, section: null }); onDone(); }}>All</Button>
      </Space>
      <span style={{ color: ink.quiet, fontSize: 12 }}>Only keys: of the chosen parts; where none is chosen, of all.</span>
    </div>
  );
}
