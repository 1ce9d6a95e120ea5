import { Button, Select } from "antd";

import type { Override } from "../api/client";
import { NumberField } from "../shared/NumberField";
import { TextField } from "../shared/TextField";
import { useCommand } from "../state/useEdit";

type Channel = NonNullable<Override["channel"]>;
const channels = ["translation", "rotation"].flatMap((group) => ["x", "y", "z"].map((axis) => `${group}.${axis}` as Channel));

/** Which channel an input moves and how far. */
export function MovedByInput({ one, onChange }: { one: Override; onChange: (what: Partial<Override>) => Promise<boolean> }) {
  const unit = one.channel?.startsWith("translation") ? " m" : "°";
  return (
    <>
      <Select size="small" aria-label={`Channel of ${one.name}`} style={{ width: 112 }} value={one.channel ?? "rotation.x"} options={channels.map((value) => ({ value, label: value }))} onChange={(channel: Channel) => { void onChange({ channel }); }} />
      <NumberField label={`Far of ${one.name}`} value={one.factor ?? 1} text={`${String(one.factor ?? 1)}${unit}`} step={1} width={54} onCommit={(factor) => { void onChange({ factor }); }} />
      <span style={{ fontSize: 12 }}>×</span>
      <TextField label={`Input that moves ${one.name}`} width={66} value={one.input ?? ""} onCommit={(text) => onChange({ input: text.trim() || "speed" })} />
    </>
  );
}

/** Has the scene's own parts do what the receiver's do by their names. */
export function MakeRules() {
  const command = useCommand();
  return <Button size="small" title="Gives the scene’s parts of these names formulas that read the same inputs, as channels of a part called inputs" onClick={() => void command(() => undefined, { do: "wire inputs" })}>make rules</Button>;
}
