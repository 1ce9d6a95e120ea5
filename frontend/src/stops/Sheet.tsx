import { useState } from "react";

import type { DrivenView } from "../api/client";
import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { usePosing } from "../state/posing";
import { useSamples } from "../state/samples";
import { useSelection } from "../state/selection";
import { ink } from "../shared/theme";
import { AddRows } from "./AddRows";
import { Head } from "./Head";
import { Mapping } from "./Mapping";
import { StopsTable } from "./StopsTable";
import { TryIt } from "./TryIt";
import { useSheet } from "./useSheet";

/** One set: its driver, trying it, the table of stops, the shape of the chosen row; until one is, that of
 * the channel which is looked at elsewhere. */
export function Sheet({ set }: { set: DrivenView }) {
  const [row, setRow] = useState<string | null>(null);
  const tried = usePosing((posing) => posing.at);
  const first = useSamples((samples) => samples.first);
  const frame = usePlayer((player) => player.frame);
  const keyed = useSheet(set.id, tried ?? set.stops[0] ?? 0);
  const driver = keyed?.driver ?? [];
  const here = driver.length === 1 ? driver[0] : driver[frame - first];
  const at = tried ?? here ?? set.low;
  const sheet = useSheet(set.id, at);
  const parts = useOpenScene((scene) => scene.parts);
  const selected = useSelection((selection) => `${selection.part ?? ""}/${selection.channel ?? ""}`);
  const chosen = set.rows.find((one) => one.row === row) ?? set.rows.find((one) => `${one.part}/${one.channel}` === selected) ?? set.rows[0];
  return (
    <div style={{ display: "grid", gap: 10, maxWidth: 1500 }}>
      <Head set={set} />
      <TryIt set={set} at={at} tried={tried !== null} />
      <StopsTable set={set} sheet={sheet} at={at} chosen={chosen?.row ?? null} onChoose={setRow} />
      <AddRows set={set} />
      <div role="status" style={{ color: ink.quiet }}>
        {sheet?.findings.map(({ text, row: odd }) => (
          <div key={text}>
            <span style={{ color: ink.trouble }}>▲</span>{" "}
            <button type="button" style={{ all: "unset", cursor: odd ? "pointer" : "default" }} onClick={() => { if (odd) setRow(odd); }}>{text}</button>
          </div>
        ))}
      </div>
      {chosen && parts[chosen.part] && <Mapping set={set} row={chosen.row} part={chosen.part} at={at} />}
    </div>
  );
}
