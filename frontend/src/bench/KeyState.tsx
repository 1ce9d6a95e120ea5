import { App, Button, Select, Space } from "antd";
import { useShallow } from "zustand/react/shallow";

import { useEdit } from "../state/useEdit";
import { useKeys } from "../commands/shortcuts";
import type { AutoKey, Scope } from "../state/keying";
import { dropTryOuts, useChosenLayer, useKeyState } from "../state/keying";
import { useOpenScene } from "../state/openScene";
import { Hint } from "../shared/Hint";
import { ink } from "../shared/theme";
import { CarryChange } from "./CarryChange";
import { keepTryOuts, keyScope } from "./commands";

const scopes: { value: Scope; label: string }[] = [
  { value: "channel", label: "one channel" },
  { value: "all", label: "all" },
  { value: "position", label: "position" },
  { value: "rotation", label: "rotation" },
  { value: "scale", label: "scale" },
  { value: "own channels", label: "own channels" },
  { value: "changed only", label: "changed only" },
];
const automatic: { value: AutoKey; label: string }[] = [
  { value: "off", label: "only try" },
  { value: "where keyed", label: "key where keyed" },
  { value: "always", label: "always key" },
];

/** Which channels a key command writes, what a change by hand does, and the chosen layer. */
export function KeyState() {
  const edit = useEdit();
  const { message } = App.useApp();
  const [scope, autoKey] = useKeyState(useShallow((keying) => [keying.scope, keying.autoKey] as const));
  const layer = useChosenLayer();
  const keys = useKeys((all) => all.key);
  const sets = useOpenScene((scene) => scene.header.sets);
  const layers = useOpenScene((scene) => scene.header.layers);
  const options = [...scopes, ...sets.map(({ id, name }) => ({ value: `set:${id}` as Scope, label: `set ${name}` }))];
  const known = options.some(({ value }) => value === scope) ? scope : "channel";
  return (
    <Space size={5} wrap>
      <Hint title={`A key on every channel of the key scope, on this frame (${keys})`}>
        <Button size="small" aria-label={`Key ${keys}: the key scope`} onClick={() => { keyScope(edit, (text) => void message.info(text, 3)); }}>
          Key <span aria-hidden className="mono" style={{ color: ink.quiet, fontSize: 11 }}>{keys}</span>
        </Button>
      </Hint>
      <CarryChange />
      <Select<Scope> size="small" aria-label="Key scope" title="Key scope: the channels that a key command writes" style={{ width: 112 }} popupMatchSelectWidth={false} value={known} options={options} onChange={(value) => { useKeyState.setState({ scope: value }); }} />
      <Select<AutoKey>
        size="small"
        aria-label="What a change by hand does"
        title="What a change by hand does: only try it, key channels that have keys, or always key"
        style={{ width: 136, ...(autoKey === "always" ? { boxShadow: `0 2px 0 ${ink.key}`, borderRadius: 6 } : {}) }}
        popupMatchSelectWidth={false}
        value={autoKey}
        options={automatic}
        onChange={(value) => { useKeyState.setState({ autoKey: value }); }}
      />
      {layers.length > 0 && (
        <Select size="small" aria-label="Layer that keys go to" title="Keys go to this layer" style={{ width: 80 }} popupMatchSelectWidth={false} value={layer ?? ""} options={[{ value: "", label: "base" }, ...layers.map(({ id, name }) => ({ value: id, label: name }))]} onChange={(value) => { useKeyState.setState({ layer: value || null }); }} />
      )}
    </Space>
  );
}

/** What is only tried, until it is kept or dropped. */
export function TriedBanner() {
  const edit = useEdit();
  const count = useKeyState(({ tryOuts }) => tryOuts.length);
  if (!count) return null;
  return (
    <Space role="status" style={{ padding: "3px 10px", background: ink.field, borderBottom: `1px dashed ${ink.quiet}`, fontSize: 12 }}>
      <span><strong>{count} tried</strong>, nothing of it is saved.</span>
      <Button size="small" title="As keys where there are keys, else as what the channel is set to. D keys them all" onClick={() => { keepTryOuts(edit); }}>Keep</Button>
      <Button size="small" title="Back to what is saved" onClick={dropTryOuts}>Drop</Button>
    </Space>
  );
}
