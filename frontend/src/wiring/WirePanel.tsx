import { Button, Select, Space } from "antd";

import type { WireView } from "../state/order";
import { useEdit } from "../state/useEdit";
import type { Tap } from "../shared/taps";
import { taps } from "../shared/taps";
import { ink } from "../shared/theme";
import { isFolded, isOfSurface, isSolution, rereadEdit, stepOf } from "./reads";
import { useWiring } from "./state";

/** Who reads what at which tap; the read can be changed, muted or taken away here. */
export function WirePanel({ wire }: { wire: WireView }) {
  const edit = useEdit();
  const step = stepOf(wire.target);
  const given = isSolution(wire) || isOfSurface(wire) || isFolded(wire);
  const close = (stored: boolean) => { if (stored) useWiring.setState({ wire: null }); };
  return (
    <section aria-label="Chosen read" style={{ background: ink.field, border: `1px solid ${ink.ink}`, borderRadius: 8, padding: "8px 10px", margin: "8px 0", display: "grid", gap: 7 }}>
      <span>{wire.text}{wire.back ? ", one frame back" : ""}{wire.looped ? ". It is part of a loop." : "."}</span>
      {!given && <Space size={6} wrap>
        <span>at</span>
        <Select<Tap> size="small" aria-label="Tap of the read" style={{ width: 92 }} value={wire.tap as Tap} options={taps.map((tap) => ({ value: tap, label: tap }))} onChange={(tap) => void edit(rereadEdit(wire, tap, wire.back)).then(close)} />
        <Button size="small" aria-pressed={wire.back} type={wire.back ? "primary" : "default"} onClick={() => void edit(rereadEdit(wire, wire.tap as Tap, !wire.back)).then(close)}>one frame back</Button>
      </Space>}
      {step && (
        <Space size={6}>
          <Button size="small" onClick={() => void edit({ do: "change step", step: step.id, on: !step.on })}>{step.on ? "Mute" : "Unmute"} “{step.name}”</Button>
          {!given && <Button size="small" onClick={() => void edit({ do: "remove step", step: step.id }).then(close)}>Delete it</Button>}
        </Space>
      )}
    </section>
  );
}
