import { DeleteOutlined, EyeInvisibleOutlined, EyeOutlined, HolderOutlined } from "@ant-design/icons";
import { Button } from "antd";

import type { DeformHead, SurfaceHead } from "../../api/client";
import { useLooked } from "../../state/surfaces";
import { useEdit } from "../../state/useEdit";
import { ink } from "../../shared/theme";
import { DeformSettings } from "./DeformSettings";

interface Props {
  surface: SurfaceHead;
  step: DeformHead;
  open: boolean;
  cost: number | undefined;
  /** The step that is being dragged. */
  dragged: string | null;
  onDrag: (step: string | null) => void;
  onDrop: () => void;
  onUp: (() => void) | undefined;
  onDown: (() => void) | undefined;
}

const small = { width: 20, height: 18 } as const;

/** A step on the surface's string: dragged to another place, muted, opened, deleted. */
export function DeformRow({ surface, step, open, cost, dragged, onDrag, onDrop, onUp, onDown }: Props) {
  const edit = useEdit();
  const word = step.on ? "Mute" : "Unmute";
  const over = dragged !== null && dragged !== step.id;
  return (
    <section
      aria-label={`Step ${step.name}`}
      onDragOver={(event) => { if (over) event.preventDefault(); }}
      onDrop={(event) => { event.preventDefault(); onDrop(); }}
      style={{ opacity: dragged === step.id ? 0.4 : 1 }}
    >
      <div style={{ display: "flex", alignItems: "center", gap: 4, minHeight: 26, background: open ? ink.chosen : undefined, borderRadius: 4, paddingLeft: 10 }}>
        <span aria-hidden style={{ flex: "none", width: 12, height: 12, borderRadius: 6, border: `2px solid ${ink.key}`, background: step.on ? ink.key : ink.panel, opacity: step.on ? 1 : 0.5, zIndex: 1 }} />
        <button type="button" className="bare" aria-expanded={open} title={`${step.kind}: show its numbers`} style={{ flex: 1, minWidth: 0, textAlign: "left", overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap", paddingLeft: 4, fontWeight: 600, color: step.on ? ink.ink : ink.quiet }} onClick={() => { useLooked.setState({ step: open ? null : step.id }); }}>{step.name}</button>
        <span className="mono" title="What it took on this frame" style={{ fontSize: 11, color: ink.quiet }}>{step.on && cost !== undefined ? `${cost.toFixed(1)} ms` : ""}</span>
        {onUp && <Button type="text" size="small" style={small} aria-label={`Move ${step.name} up`} title="Before the step above it" onClick={onUp}>↑</Button>}
        {onDown && <Button type="text" size="small" style={small} aria-label={`Move ${step.name} down`} title="Behind the step below it" onClick={onDown}>↓</Button>}
        <Button type="text" size="small" style={small} aria-label={`${word} ${step.name}`} title={word} icon={step.on ? <EyeOutlined /> : <EyeInvisibleOutlined />} onClick={() => void edit({ do: "change deform", surface: surface.id, step: step.id, on: !step.on })} />
        <Button type="text" size="small" style={small} aria-label={`Delete ${step.name}`} title="Delete the step; undo brings it back" icon={<DeleteOutlined />} onClick={() => void edit({ do: "remove deform", surface: surface.id, step: step.id })} />
        <span
          draggable
          aria-hidden
          data-grip={step.name}
          title="Drag to another place in the order"
          style={{ cursor: "grab", color: ink.quiet, paddingInline: 2 }}
          onDragStart={(event) => { event.dataTransfer.effectAllowed = "move"; event.dataTransfer.setData("text/plain", step.id); onDrag(step.id); }}
          onDragEnd={() => { onDrag(null); }}
        >
          <HolderOutlined />
        </span>
      </div>
      {open && <DeformSettings surface={surface} step={step} />}
    </section>
  );
}
