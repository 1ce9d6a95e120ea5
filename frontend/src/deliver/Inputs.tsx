import { Button, Slider } from "antd";

import { shown } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { Chapter } from "../shared/Chapter";
import { ink } from "../shared/theme";
import { FromScene } from "./FromScene";
import { forgetInputs, inputAt, inputsOf, tell, useReceiver } from "./receiver";

/** Inputs by name: live numbers, buttons and places; a change counts from the shown time on. */
export function Inputs() {
  const setup = useReceiver((state) => state.setup);
  const said = useReceiver((state) => state.said);
  const inputs = inputsOf(setup);
  return (
    <section aria-label="Inputs by name" style={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 4, alignContent: "start" }}>
      <div style={{ display: "flex", alignItems: "center", flexWrap: "wrap" }}>
        <span style={{ flex: 1, whiteSpace: "nowrap" }}><Chapter name="inputs" of="Handing over" /></span>
        {Object.keys(said).length > 0 && <Button size="small" type="text" title="All inputs as they were at the beginning" onClick={forgetInputs}>forget</Button>}
        {inputs.length > 0 && <FromScene inputs={inputs} />}
      </div>
      {inputs.map(({ name, kind }) => (kind === "place" ? <PlaceInput key={name} name={name} /> : kind === "button" ? <ButtonInput key={name} name={name} /> : <NumberInput key={name} name={name} />))}
      {!inputs.length && <p style={{ margin: 0, color: ink.quiet, fontSize: 12 }}>None yet: moves and overrides name them.</p>}
    </section>
  );
}

function useInput(name: string): number {
  return useReceiver((state) => inputAt(state, name));
}

function NumberInput({ name }: { name: string }) {
  const value = useInput(name);
  const most = useReceiver(({ setup }) => Math.max(1, ...(setup.moves ?? []).filter(({ input }) => input === name).map((move) => 2 * (move.value ?? 0))));
  return (
    <div style={{ display: "flex", alignItems: "center", gap: 8 }}>
      <span style={{ width: 60, overflow: "hidden", textOverflow: "ellipsis" }}>{name}</span>
      <Slider ariaLabelForHandle={`Input ${name}`} style={{ flex: 1, margin: "4px 0" }} min={0} max={most} step={most / 100} value={value} tooltip={{ open: false }} onChange={(to) => { tell(name, to); }} />
      <NumberField label={`Value of ${name}`} value={value} text={shown(value, "", 2)} step={0.01} width={54} onCommit={(to) => { tell(name, to); }} />
    </div>
  );
}

function ButtonInput({ name }: { name: string }) {
  const press = () => {
    const { frame, rate } = useReceiver.getState();
    tell(name, 1);
    // It is let go a frame later.
    useReceiver.setState(({ said }) => ({ said: { ...said, [name]: [...(said[name] ?? []), [(frame + 1) / rate, 0]] } }));
  };
  return (
    <div style={{ display: "flex", alignItems: "center", gap: 8 }}>
      <span style={{ flex: 1 }}>{name}</span>
      <Button size="small" onClick={press}>press</Button>
    </div>
  );
}

function PlaceInput({ name }: { name: string }) {
  const at = [useInput(`${name}.x`), useInput(`${name}.y`), useInput(`${name}.z`)];
  return (
    <div style={{ display: "flex", alignItems: "center", gap: 4 }}>
      <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis" }}>{name}</span>
      {["x", "y", "z"].map((axis, n) => (
        <NumberField key={axis} label={`${name} ${axis}`} value={at[n] ?? 0} text={shown(at[n] ?? 0, "", 2)} step={0.05} width={54} onTry={(to) => { tell(`${name}.${axis}`, to); }} onCommit={(to) => { tell(`${name}.${axis}`, to); }} />
      ))}
    </div>
  );
}
