import { Button } from "antd";

import type { ChannelView, PartView, StepView } from "../../api/client";
import { chooseChannel } from "../../state/selection";
import { useCommand, useEdit } from "../../state/useEdit";
import { exact } from "../../shared/format";
import { saidUnit } from "../../shared/units";
import { NumberField } from "../../shared/NumberField";
import { ValueField } from "../channels/ValueField";
import { writersOf } from "../channels/writers";
import type { ShaperSettings } from "./kinds";

/** The numbers of a shaper, which are channels of its part, and what else it is told. */
export function ShaperFields({ step, part, settings }: { step: StepView; part: PartView; settings: ShaperSettings }) {
  const edit = useEdit();
  const command = useCommand();
  const own = part.channels.filter(({ id }) => id.startsWith(`${step.id}.`) && id !== `${step.id}.weight`);
  const change = (what: object) => void edit({ do: "change step", step: step.id, settings: { ...settings, ...what } });
  return (
    <div style={{ display: "grid", gap: 3, margin: "4px 0" }}>
      {own.map((channel) => <Input key={channel.id} part={part} channel={channel} name={channel.id.slice(step.id.length + 1)} />)}
      {settings.kind === "noise" && (["seed", "octaves"] as const).map((key) => (
        <Row key={key} name={key}>
          <NumberField label={`${step.name} ${key}`} value={settings[key] ?? (key === "seed" ? 0 : 1)} text={exact(settings[key] ?? (key === "seed" ? 0 : 1))} step={1} onCommit={(value) => { change({ [key]: Math.round(value) }); }} />
        </Row>
      ))}
      {step.zone === "keyed" && (
        <Button size="small" style={{ justifySelf: "start" }} title="Keys on every frame in its place" onClick={() => void command(() => undefined, { do: "write out shaper", step: step.id })}>Write out as keys</Button>
      )}
    </div>
  );
}

function Row({ name, onOpen, children }: { name: string; onOpen?: () => void; children: React.ReactNode }) {
  return (
    <span style={{ display: "flex", alignItems: "center", gap: 8, fontSize: 12 }}>
      {onOpen ? <button type="button" className="bare" title="Open its curve and ledger: it can be keyed and driven" onClick={onOpen} style={{ flex: 1, textAlign: "left", textDecoration: "underline dotted" }}>{name}</button> : <span style={{ flex: 1 }}>{name}</span>}
      {children}
    </span>
  );
}

function Input({ part, channel, name }: { part: PartView; channel: ChannelView; name: string }) {
  const whole = name === "n" || name === "frames" || name === "period";
  return (
    <Row name={`${name} ${saidUnit(channel.unit)}`} onOpen={() => { chooseChannel(part.id, channel.id); }}>
      <ValueField partId={part.id} partName={part.name} channel={channel} writers={writersOf(part, channel)} {...(whole ? { step: 1 } : {})} />
    </Row>
  );
}
