import { Segmented } from "antd";
import { useState } from "react";

import type { CausesView } from "../state/order";
import { useAbout } from "../state/order";
import { unitIn, useOpenScene } from "../state/openScene";
import { goTo, usePlayer } from "../state/player";
import { chooseChannel } from "../state/selection";
import { shown } from "../shared/format";
import { ink } from "../shared/theme";

type Way = "comes from" | "reaches";

/** From a value back to the keys that cause it, or on to all that it reaches. */
export function Causes({ part, channel }: { part: string; channel: string }) {
  const [way, setWay] = useState<Way | null>(null);
  return (
    <section aria-label="Causes" style={{ borderTop: `1px solid ${ink.line}`, padding: "8px 10px", maxHeight: "45%", display: "flex", flexDirection: "column" }}>
      <Segmented<string>
        size="small"
        block
        aria-label="Where the value comes from, or what it reaches"
        value={way ?? "hide"}
        options={[{ value: "comes from", label: "where from" }, { value: "reaches", label: "reaches" }, { value: "hide", label: "hide" }]}
        onChange={(value) => { setWay(value === "hide" ? null : (value as Way)); }}
      />
      {way && <List part={part} channel={channel} way={way} />}
    </section>
  );
}

function List({ part, channel, way }: { part: string; channel: string; way: Way }) {
  const frame = usePlayer((player) => (player.playing ? 0 : player.frame));
  const parts = useOpenScene((scene) => scene.parts);
  const query = new URLSearchParams({ part, channel, frame: String(frame) }).toString();
  const { data } = useAbout<CausesView>("causes", `?${query}`);
  if (!data) return null;
  const go = (id: string, to: string, keys: number[]) => {
    chooseChannel(id, to);
    if (keys[0] !== undefined) goTo(keys[0]);
  };
  const rows = way === "reaches"
    ? data.reaches.map((one) => ({ ...one, depth: 0, value: null, keys: [] as number[], kind: "" }))
    : data.causes;
  return (
    <ul aria-label={way === "reaches" ? "What it reaches" : "Where it comes from"} className="scroll" style={{ listStyle: "none", margin: "6px 0 0", padding: 0, fontSize: 12, flex: 1 }}>
      {rows.map((row, n) => (
        <li key={n} style={{ display: "flex", gap: 6, paddingLeft: Math.min(row.depth, 8) * 7 }}>
          <button type="button" title="Go there" onClick={() => { go(row.part, row.channel, row.keys); }} style={{ all: "unset", cursor: "pointer", flex: 1, minWidth: 0, overflowWrap: "anywhere", fontWeight: row.kind === "keys" ? 600 : 400 }}>
            {row.label}
            {row.keys.length > 0 && <span style={{ color: ink.quiet }}> · keys at {row.keys.join(", ")}</span>}
          </button>
          {row.value !== null && <span className="mono">{shown(row.value, unitIn(parts, row.part, row.channel))}</span>}
        </li>
      ))}
      {!rows.length && <li style={{ color: ink.quiet }}>{way === "reaches" ? "Nothing else is computed from it." : "It stands at its default."}</li>}
    </ul>
  );
}
