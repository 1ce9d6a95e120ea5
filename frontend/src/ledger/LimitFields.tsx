import type { StepView } from "../api/client";
import { useEdit } from "../state/useEdit";
import { feed } from "../state/samples";
import { inField } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { ink } from "../shared/theme";
import { saidUnit } from "../shared/units";

type Settings = Extract<StepView["settings"], { kind?: "limit" }>;

/** The two ends of a limit. */
export function LimitFields(props: { step: StepView; settings: Settings; unit: string }) {
  const { step, settings, unit } = props;
  const edit = useEdit();
  const changed = (end: "low" | "high", value: number) => ({
    do: "change step" as const,
    step: step.id,
    settings: { ...settings, kind: "limit" as const, [end]: value },
  });
  return (
    <div style={{ display: "flex", alignItems: "center", gap: 6, margin: "3px 0" }}>
      {(["low", "high"] as const).map((end) => (
        <span key={end} style={{ display: "contents" }}>
          {end === "high" && <span style={{ color: ink.quiet }}>…</span>}
          <NumberField
            label={`${step.name} ${end}`}
            value={settings[end] ?? 0}
            text={settings[end] == null ? "open" : inField(settings[end], unit)}
            unit={unit}
            width={86}
            meant={settings[end] == null}
            onTry={(value) => {
              feed.tryOut([changed(end, value)]);
            }}
            onCommit={(value) => void edit(changed(end, value))}
          />
        </span>
      ))}
      <span style={{ color: ink.quiet }}>{saidUnit(unit)}</span>
    </div>
  );
}
