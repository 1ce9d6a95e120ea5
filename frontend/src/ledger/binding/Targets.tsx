import { Button } from "antd";

import type { StepView } from "../../api/client";
import { usePart } from "../../state/openScene";
import { ink } from "../../shared/theme";
import { ValueField } from "../channels/ValueField";
import { writersOf } from "../channels/writers";
import { PartSelect, Row, TapSelect } from "./fields";
import type { Target } from "./settings";

interface Props {
  step: StepView;
  part: string;
  targets: Target[];
  onChange: (targets: Target[]) => void;
}

/** What a constraint follows: part, weight, tap, and whether one frame back. */
export function Targets({ step, part, targets, onChange }: Props) {
  const put = (n: number, what: Partial<Target>) => { onChange(targets.map((one, m) => (m === n ? { ...one, ...what } : one))); };
  return (
    <>
      {targets.map((target, n) => (
        <div key={target.part ?? "0"} style={{ display: "flex", gap: 4, alignItems: "center", flexWrap: "wrap" }}>
          <PartSelect label={`${step.name} target ${String(n + 1)}`} value={target.part ?? ""} none={[{ value: "", label: "the world" }]} without={part} width={205} onChange={(id) => { put(n, { part: id || null }); }} />
          {targets.length > 1 && <Button type="text" size="small" aria-label={`Take target ${String(n + 1)} of ${step.name} out`} title="Take this target out" style={{ paddingInline: 4, marginLeft: "auto" }} onClick={() => { onChange(targets.filter((_, m) => m !== n)); }}>×</Button>}
          <span style={{ flexBasis: "100%", height: 0 }} />
          <span style={{ color: ink.quiet, fontSize: 11.5, width: 48 }} title="Its weight among the targets, and at which tap it is read">weight</span>
          <Weight step={step} part={part} target={target} />
          <TapSelect label={`${step.name} tap of target ${String(n + 1)}`} value={target.tap ?? "final"} onChange={(tap) => { put(n, { tap }); }} />
          <Button type={target.back ? "primary" : "text"} size="small" aria-pressed={target.back ?? false} title="Read it as it was one frame back" style={{ paddingInline: 5, fontSize: 11 }} onClick={() => { put(n, { back: !target.back }); }}>−1</Button>
        </div>
      ))}
      <Row label="and">
        <PartSelect label={`Add a target to ${step.name}`} value="–" none={[{ value: "–", label: "another …" }, ...(targets.some((one) => one.part === null) ? [] : [{ value: "", label: "the world" }])]} without={part} onChange={(id) => { if (id !== "–") onChange([...targets, { part: id || null }]); }} />
      </Row>
    </>
  );
}

/** The weight of a target: a channel of the step, keyed like any other. */
function Weight({ step, part: id, target }: { step: StepView; part: string; target: Target }) {
  const part = usePart(id);
  const channel = part?.channels.find((one) => one.id === `${step.id}.weight.${target.part ?? "0"}`);
  if (!part || !channel) return null;
  return <ValueField partId={part.id} partName={part.name} channel={channel} writers={writersOf(part, channel)} label={`weight of ${channel.name}`} width={58} step={0.01} />;
}
