import { Button, Select } from "antd";

import type { Move } from "../api/client";
import { NumberField } from "../shared/NumberField";
import { TextField } from "../shared/TextField";
import { Chapter } from "../shared/Chapter";
import { ink } from "../shared/theme";
import { useReceiver } from "./receiver";
import { useChangeSetup } from "./useSetup";

const causes: Record<Move["cause"], string> = { over: "over", under: "at most", end: "at end", button: "button" };

/** From which clip to which, when, and over how long: a table. */
export function Moves() {
  const setup = useReceiver((state) => state.setup);
  const clips = useReceiver((state) => state.played?.clips);
  const moves = setup.moves ?? [];
  const names = clips?.map(({ name }) => name) ?? [];
  const changeSetup = useChangeSetup();
  const put = (next: Move[]) => changeSetup({ moves: next });
  const change = (n: number, what: Partial<Move>) => put(moves.map((move, m) => (m === n ? { ...move, ...what } : move)));
  const add = () => {
    const [a = "", b = a] = names;
    void put([...moves, { start: a, to: b, cause: "over", input: "speed", value: 0.1, blend: 0.25 }]);
  };
  const once = setup.once ?? [];
  return (
    <section aria-label="Moves from clip to clip" style={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 4, alignContent: "start" }}>
      <div style={{ display: "flex", alignItems: "center" }}>
        <span style={{ flex: 1 }}><Chapter name="moves from clip to clip" of="Handing over" /></span>
        <Button size="small" disabled={names.length < 2} title={names.length < 2 ? "Bake a second clip first" : "Another move"} onClick={add}>+ move</Button>
      </div>
      {moves.map((move, n) => (
        <div key={n} role="group" aria-label={`Move ${String(n + 1)}`} style={{ display: "flex", alignItems: "center", gap: 3 }}>
          <Select size="small" aria-label="from" style={{ width: 66, flex: "none" }} value={move.start} options={["any", ...names].map((value) => ({ value, label: value }))} onChange={(start) => { void change(n, { start }); }} />
          <span style={{ color: ink.quiet }}>→</span>
          <Select size="small" aria-label="to" style={{ width: 66, flex: "none" }} value={move.to} options={names.map((value) => ({ value, label: value }))} onChange={(to) => { void change(n, { to }); }} />
          {move.cause !== "end" && <TextField label="input" width={56} value={move.input ?? ""} onCommit={(text) => change(n, { input: text.trim() || "speed" })} />}
          <Select size="small" aria-label="cause" style={{ width: 78, flex: "none" }} value={move.cause} options={Object.entries(causes).map(([value, label]) => ({ value, label }))} onChange={(cause) => { void change(n, { cause: cause as Move["cause"] }); }} />
          {(move.cause === "over" || move.cause === "under") && <NumberField label="value" value={move.value ?? 0} text={String(move.value ?? 0)} step={0.1} width={38} onCommit={(value) => { void change(n, { value }); }} />}
          <span style={{ flex: 1 }} />
          <NumberField label="blend" value={move.blend ?? 0.25} text={`${String(move.blend ?? 0.25)} s`} step={0.05} width={62} onCommit={(blend) => { void change(n, { blend: Math.min(Math.max(blend, 0), 60) }); }} />
          <Button type="text" size="small" aria-label={`Delete move ${String(n + 1)}`} style={{ width: 18, height: 18 }} onClick={() => { void put(moves.filter((_, m) => m !== n)); }}>×</Button>
        </div>
      ))}
      {names.length > 0 && (
        <div style={{ display: "flex", flexWrap: "wrap", gap: 4, fontSize: 12, color: ink.quiet, alignItems: "center" }}>
          {names.map((name) => (
            <Button key={name} size="small" type="text" style={{ paddingInline: 4, height: 20 }} title="Whether it begins again at its end" onClick={() => { void changeSetup({ once: once.includes(name) ? once.filter((one) => one !== name) : [...once, name] }); }}>{name}: {once.includes(name) ? "once" : "loop"}</Button>
          ))}
        </div>
      )}
    </section>
  );
}
