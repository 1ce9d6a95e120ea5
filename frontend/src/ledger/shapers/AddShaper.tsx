import { Button } from "antd";
import { memo } from "react";

import type { OneEdit } from "../../api/client";
import { chooseStep } from "../../state/selection";
import { chosenNow, useOpenScene } from "../../state/openScene";
import { useEdit } from "../../state/useEdit";
import { Popup } from "../../shared/Popup";
import { ink } from "../../shared/theme";
import { freeStepName } from "../binding/settings";
import type { ShaperKind } from "./kinds";
import { shaperHints, shaperKinds } from "./kinds";

/** Adds a step that shapes the chosen channel's curve: behind its keys and layers, or late. */
export const AddShaper = memo(function AddShaper({ channel: called, zone }: { channel: string; zone: "keyed" | "late" }) {
  const edit = useEdit();
  const add = async (kind: ShaperKind, close: () => void) => {
    const chosen = chosenNow();
    if (!chosen) return;
    const { part, channel } = chosen;
    const name = freeStepName(part, kind);
    const made: OneEdit = { do: "add step", part: part.id, name, zone, settings: { kind, channel: channel.id } };
    if (!(await edit(made))) return;
    close();
    chooseStep(useOpenScene.getState().parts[part.id]?.steps.find((step) => step.name === name)?.id ?? null);
  };
  const content = (close: () => void) => (
    <div role="menu" aria-label="Shapers" style={{ display: "grid", gap: 2 }}>
      {shaperKinds.map((kind) => (
        <Button key={kind} type="text" size="small" role="menuitem" style={{ justifyContent: "flex-start" }} onClick={() => void add(kind, close)}>
          {kind}<span style={{ color: ink.quiet }}>{shaperHints[kind]}</span>
        </Button>
      ))}
    </div>
  );
  return (
    <Popup placement="leftTop" title={`Shape ${called}`} content={content}>
      <Button type="text" size="small" title="Wave, noise, smooth, on nths, shift, strength" style={{ fontSize: 11.5 }}>+ shape</Button>
    </Popup>
  );
});
