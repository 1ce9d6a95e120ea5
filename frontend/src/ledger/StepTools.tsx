import { DeleteOutlined, EyeInvisibleOutlined, EyeOutlined } from "@ant-design/icons";
import { Button } from "antd";
import { useShallow } from "zustand/react/shallow";

import type { StepView } from "../api/client";
import { useEdit } from "../state/useEdit";
import { useKeys } from "../commands/shortcuts";
import { useOpenScene } from "../state/openScene";
import { isShaper } from "./shapers/kinds";

const small = { width: 20, height: 18 };
const none: StepView[] = [];

/** Mutes a step or lets it work again, moves it among those of its zone that write the same
 * channel, deletes it. */
export function StepTools({ step, part }: { step: StepView; part: string }) {
  const edit = useEdit();
  const keys = useKeys((all) => all.mute);
  const word = step.on ? "Mute" : "Unmute";
  const order = useOpenScene(useShallow((scene) => scene.parts[part]?.steps.filter(({ zone }) => zone === step.zone) ?? none));
  const place = order.findIndex(({ id }) => id === step.id);
  const rivals = order.flatMap(({ writes }, n) => (writes.some((one) => step.writes.includes(one)) ? [n] : []));
  const before = rivals.findLast((n) => n < place);
  const after = rivals.find((n) => n > place);
  const other = otherZone(step);
  const move = (position: number) => void edit({ do: "move step", step: step.id, zone: step.zone, position });
  return (
    <span style={{ whiteSpace: "nowrap" }}>
      {before !== undefined && <Button type="text" size="small" title="Before the step above it" aria-label={`Move ${step.name} up`} style={small} onClick={() => { move(before); }}>↑</Button>}
      {after !== undefined && <Button type="text" size="small" title="Behind the step below it" aria-label={`Move ${step.name} down`} style={small} onClick={() => { move(after); }}>↓</Button>}
      {other && <Button type="text" size="small" title={other === "late" ? "To Late: it then sees solved results" : `Back to ${other}`} aria-label={`Move ${step.name} to ${other}`} style={{ ...small, width: "auto", paddingInline: 3, fontSize: 11 }} onClick={() => void edit({ do: "move step", step: step.id, zone: other, position: 999 })}>{other === "late" ? "late" : "early"}</Button>}
      <Button
        type="text"
        size="small"
        title={`${word} (${keys})`}
        aria-label={`${word} ${step.name}`}
        icon={step.on ? <EyeOutlined /> : <EyeInvisibleOutlined />}
        style={small}
        onClick={() => void edit({ do: "change step", step: step.id, on: !step.on })}
      />
      <Button
        type="text"
        size="small"
        title="Delete the step; undo brings it back"
        aria-label={`Delete ${step.name}`}
        icon={<DeleteOutlined />}
        style={small}
        onClick={() => void edit({ do: "remove step", step: step.id })}
      />
    </span>
  );
}

/** Where else a step has a meaning: Late, or back where its kind begins. */
function otherZone({ zone, settings }: StepView): "late" | "keyed" | "driven" | "bound" | null {
  if (settings.kind === "limit" || settings.kind === "layer" || settings.kind === "lead" || settings.kind === "limb" || settings.kind === "walk") return null;
  if (zone !== "late") return "late";
  if (isShaper(settings)) return "keyed";
  return "channel" in settings ? "driven" : "bound";
}
