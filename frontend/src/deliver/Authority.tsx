import { Select } from "antd";

import { useChosenPart } from "../state/openScene";
import { choosePart } from "../state/selection";
import { useOpenScene } from "../state/openScene";
import { Chapter } from "../shared/Chapter";
import { ink } from "../shared/theme";
import { showFrame, useReceiver, wordsOn } from "./receiver";

const colours: Record<string, [string, string]> = { clip: [ink.writers[0], ink.key], blend: [ink.writers[1], ink.taps.driven] };
const other: [string, string] = [ink.writers[2], ink.trouble];

/** For the chosen part: who would write it over time, and who has the last word now. */
export function Authority() {
  const played = useReceiver((state) => state.played);
  const frame = useReceiver((state) => state.frame);
  const parts = useOpenScene((scene) => scene.parts);
  const chosen = useChosenPart()?.name;
  if (!played) return <p style={{ margin: 0, color: ink.quiet }}>Bake, and the receiver shows here who writes a part, and who has the last word.</p>;
  const part = chosen !== undefined && played.names.includes(chosen) ? chosen : played.names.at(-1);
  if (part === undefined) return null;
  const rows = wordsOn(played, part, frame);
  const share = (n: number) => `${String((100 * n) / Math.max(played.frames - 1, 1))}%`;
  const choose = (name: string) => {
    const found = Object.values(parts).find((one) => one.name === name);
    if (found) choosePart(found.id);
  };
  return (
    <section aria-label="Who writes the part" style={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 6 }}>
      <div style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <span style={{ flex: 1 }}><Chapter name="who writes" of="Handing over" /></span>
        <Select size="small" aria-label="Part that is written" showSearch={{ optionFilterProp: "label" }} style={{ width: 150 }} value={part} options={played.names.map((value) => ({ value, label: value }))} onChange={choose} />
      </div>
      <div
        style={{ position: "relative", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 5, cursor: "pointer" }}
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          showFrame(((event.clientX - box.left) / box.width) * (played.frames - 1));
        }}
      >
        {rows.map(({ writer, on, last }) => {
          const [fill, line] = colours[writer.kind] ?? other;
          return (
            <div key={`${writer.kind} ${writer.name}`} role="listitem" aria-label={`${writer.name}${last ? " has the last word" : on ? " gives way" : " is silent"}`}>
              <div style={{ display: "flex", fontSize: 12 }}>
                <span style={{ flex: 1, fontWeight: last ? 600 : 400 }}>{writer.name} <span style={{ color: ink.quiet }}>{writer.kind === writer.name ? "" : writer.kind}</span></span>
                <span style={{ color: last ? ink.ink : ink.quiet }}>{last ? "has the last word" : on ? "gives way" : ""}</span>
              </div>
              <div style={{ position: "relative", height: 14, background: ink.ground, borderRadius: 3 }}>
                {writer.spans.map(([a, b, most]) => <span key={a} title={`${(a / played.rate).toFixed(2)} … ${(b / played.rate).toFixed(2)} s, up to ${String(Math.round(most * 100))} %`} style={{ position: "absolute", left: share(a), width: share(Math.max(b - a, 0.5)), top: 0, bottom: 0, background: fill, border: `1px solid ${line}`, borderRadius: 3 }} />)}
                <span aria-hidden style={{ position: "absolute", left: share(frame), top: -2, bottom: -2, width: 1.5, background: ink.now }} />
              </div>
            </div>
          );
        })}
      </div>
      <p style={{ margin: 0, color: ink.quiet, fontSize: 12 }}>The lower one gives way to those above it, as far as these go. An editor that is open takes no part in it.</p>
    </section>
  );
}
