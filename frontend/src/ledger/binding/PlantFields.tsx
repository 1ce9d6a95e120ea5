import { Button, Select } from "antd";

import type { StepView } from "../../api/client";
import { usePlayer } from "../../state/player";
import { exact } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { AroundRow } from "./ConstraintFields";
import { useStepChange } from "./fields";
import type { PlantSettings } from "./settings";
import { plantFields } from "./settings";

type Span = NonNullable<PlantSettings["spans"]>[number];

/** When a part stands still in the world, and what of it. */
export function PlantFields({ step, settings }: { step: StepView; settings: PlantSettings }) {
  const { change } = useStepChange(step);
  const frame = usePlayer((player) => player.frame);
  const spans = settings.spans ?? [];
  const put = (next: Span[]) => { change({ ...settings, spans: next }); };
  return (
    <div style={{ margin: "4px 0", display: "grid", gap: 4 }}>
      <span style={{ display: "flex", gap: 6, alignItems: "center", fontSize: 11.5 }}>
        its
        <Select size="small" aria-label={`What ${step.name} keeps`} style={{ width: 100 }} value={settings.plants ?? "place"} options={["place", "position", "rotation", "height"].map((value) => ({ value, label: value }))} onChange={(plants) => { change({ ...settings, plants: plants as NonNullable<PlantSettings["plants"]> }); }} />
        stands still
      </span>
      <table style={{ fontSize: 11.5, borderSpacing: "2px 2px", marginLeft: -2, borderCollapse: "separate" }}>
        <thead><tr>{plantFields.map(([key, hint]) => <th key={key} title={hint} style={{ fontWeight: 400, textAlign: "right" }}>{key}</th>)}<th /></tr></thead>
        <tbody>
          {spans.map((span, n) => (
            <tr key={n}>
              {plantFields.map(([key, hint]) => (
                <td key={key}>
                  <NumberField label={`${step.name} span ${String(n + 1)}: ${key}`} value={span[key] ?? 3} text={exact(span[key] ?? 3)} step={1} width={38} hint={hint} onCommit={(value) => { put(spans.map((one, m) => (m === n ? { ...one, [key]: Math.round(value) } : one))); }} />
                </td>
              ))}
              <td><Button type="text" size="small" aria-label={`Take span ${String(n + 1)} away`} style={{ height: 18, paddingInline: 4 }} onClick={() => { put(spans.filter((_, m) => m !== n)); }}>×</Button></td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button size="small" style={{ justifySelf: "start" }} title="A span from this frame on" onClick={() => { put([...spans, { first: frame, last: frame + 6, keep: frame, entry: 3, exit: 3 }]); }}>+ span</Button>
      <AroundRow step={step} tap={settings.tap ?? "final"} onChange={(tap) => { change({ ...settings, tap }); }} />
    </div>
  );
}
