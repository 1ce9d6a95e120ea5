import { App, Button, Select } from "antd";
import { useState } from "react";

import { reason } from "../api/client";
import { byName } from "../shared/byName";
import { Popup } from "../shared/Popup";
import { useOpenScene } from "../state/openScene";
import type { Input } from "./receiver";
import { recordChannel, recordPlace } from "./recorded";

/** Lets an input do what a channel of the scene does, or a place go where one of its parts goes. */
export function FromScene({ inputs }: { inputs: Input[] }) {
  return (
    <Popup title="What an input does over time" content={(close) => <Choice inputs={inputs} onDone={close} />}>
      <Button size="small" title="Tells an input over time what something in the scene does">from the scene…</Button>
    </Popup>
  );
}

function Choice({ inputs, onDone }: { inputs: Input[]; onDone: () => void }) {
  const { message } = App.useApp();
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const [input, setInput] = useState(inputs[0]?.name ?? "");
  const place = inputs.find(({ name }) => name === input)?.kind === "place";
  const [part, setPart] = useState<string | null>(null);
  const [channel, setChannel] = useState("translation.x");
  const record = async () => {
    if (part === null) return;
    try {
      await (place ? recordPlace(input, part) : recordChannel(input, part, channel));
      onDone();
    } catch (error) {
      void message.error(reason(error), 6);
    }
  };
  return (
    <div style={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 6, width: 270 }}>
      <Select size="small" aria-label="Input that is told" value={input} options={inputs.map(({ name }) => ({ value: name, label: name }))} onChange={setInput} />
      <Select size="small" aria-label="Part of the scene" placeholder={place ? "goes where this part goes" : "does what a channel of this part does"} showSearch={byName} value={part} options={order.map((id) => ({ value: id, label: parts[id]?.name ?? id }))} onChange={setPart} />
      {!place && <Select size="small" aria-label="Channel of the part" showSearch={byName} value={channel} options={(part === null ? [] : (parts[part]?.channels ?? [])).map(({ id, name }) => ({ value: id, label: name }))} onChange={setChannel} />}
      <Button size="small" type="primary" disabled={part === null} onClick={() => void record()}>Record</Button>
    </div>
  );
}
