import { Button } from "antd";

import type { OneEdit } from "../../api/client";
import { useEdit } from "../../shell/useEdit";
import { useChosenChannel, useChosenPart } from "../../state/openScene";
import type { Tap } from "../../shared/taps";

/** Adds a step where it has a meaning: formulas in Driven and Late, limits in Final. */
export function AddStep({ zone }: { zone: Tap }) {
  const edit = useEdit();
  const part = useChosenPart();
  const channel = useChosenChannel();
  const kind = zone === "final" ? "limit" : zone === "driven" || zone === "late" ? "formula" : null;
  if (!part || !channel || !kind) return null;
  const add = () => {
    const names = new Set(part.steps.map(({ name }) => name));
    let name = kind;
    for (let n = 2; names.has(name); n += 1) name = `${kind} ${String(n)}`;
    const made: OneEdit =
      kind === "limit"
        ? { do: "add step", part: part.id, name, settings: { kind, channel: channel.id, low: channel.low ?? -1, high: channel.high ?? 1 } }
        : { do: "add step", part: part.id, name, zone, settings: { kind, channel: channel.id, text: "0", mode: "add" } };
    void edit(made);
  };
  return (
    <Button type="text" size="small" title={`Add a ${kind} to this channel`} onClick={add} style={{ fontSize: 11.5 }}>
      + {kind}
    </Button>
  );
}
