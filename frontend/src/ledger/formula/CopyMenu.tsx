import { Button, Select } from "antd";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { CopiesView, StepView } from "../../api/client";
import { post, reason } from "../../api/client";
import { counted } from "../../shared/format";
import { useEdit } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { byName } from "../../shared/byName";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";

const rules = {
  "by name": "follow the names: left → right, 1 → 3",
  "own part": "to the part itself go along, others stay",
  opposite: "to the opposites",
  "next in set": "as many places further in the set",
  stay: "all stay",
} as const;
type Rule = keyof typeof rules;

/** Copies a formula to the chosen parts, after a look at what each would get. */
export function CopyMenu({ step }: { step: StepView }) {
  return (
    <Popup placement="left" title={`Copy “${step.name}” to other parts`} content={(close) => <CopyForm step={step} onDone={close} />}>
      <Button type="text" size="small" aria-label={`copy to… parts: ${step.name}`} title="Copy the formula to other parts" style={{ height: 18, fontSize: 11.5, paddingInline: 4 }}>copy to…</Button>
    </Popup>
  );
}

function CopyForm({ step, onDone }: { step: StepView; onDone: () => void }) {
  const edit = useEdit();
  const scene = useOpenScene();
  const selected = useSelection((selection) => selection.parts);
  const owner = scene.order.find((id) => scene.parts[id]?.steps.some((one) => one.id === step.id));
  const [parts, setParts] = useState(() => selected.filter((id) => id !== owner));
  const [rule, setRule] = useState<Rule>("by name");
  const { data, error } = useQuery({
    queryKey: ["copies", scene.sceneId, scene.header.revision, step.id, rule, parts],
    queryFn: () => post<CopiesView>(`/api/scenes/${String(scene.sceneId)}/copies`, { step: step.id, parts, rule }),
    gcTime: 0,
  });
  const good = (data?.copies ?? []).filter(({ text }) => text !== null).map(({ part }) => part);
  return (
    <div style={{ display: "grid", gap: 8, width: 420 }}>
      <Select
        mode="multiple"
        size="small"
        aria-label="Parts to copy to"
        // Upwards: below stands what is pressed next.
        placement="topLeft"
        placeholder="parts – those chosen in tree or view come first"
        showSearch={byName}
        maxTagCount={6}
        listHeight={150}
        value={parts}
        options={scene.order.filter((id) => id !== owner).map((id) => ({ value: id, label: scene.parts[id]?.name ?? id }))}
        onChange={setParts}
      />
      <span style={{ display: "flex", gap: 6, alignItems: "center" }}>
        references
        <Select<Rule> size="small" aria-label="What references do" style={{ flex: 1 }} value={rule} options={Object.entries(rules).map(([value, label]) => ({ value: value as Rule, label }))} onChange={setRule} />
      </span>
      {error && <span role="alert" style={{ color: ink.trouble }}>{reason(error)}</span>}
      {/* As high without parts as with them, so that the open list stays at its field. */}
      <table aria-label="What each part would get" className="scroll" style={{ fontSize: 11.5, borderSpacing: "6px 2px", display: "block", height: 150 }}>
        <tbody>
          {data?.copies.map(({ part, text, problem }) => (
            <tr key={part}>
              <td style={{ whiteSpace: "nowrap", verticalAlign: "top" }}>{scene.parts[part]?.name}</td>
              <td className="mono" style={{ color: problem ? ink.trouble : ink.quiet, overflowWrap: "anywhere" }}>{text ?? problem}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button size="small" type="primary" disabled={!good.length} onClick={() => void edit({ do: "copy formula", step: step.id, parts: good, rule }).then((stored) => { if (stored) onDone(); })}>
        Copy to {counted(good.length, "part")}
      </Button>
    </div>
  );
}
