import { SettingOutlined } from "@ant-design/icons";
import { Button, Segmented } from "antd";
import { useState } from "react";

import { useEdit } from "../state/useEdit";
import { useOpenScene } from "../state/openScene";
import { NumberField } from "../shared/NumberField";
import { Popup } from "../shared/Popup";
import { TextField } from "../shared/TextField";

/** The scene's name, range and rate, and the units in which it is looked at. */
export function SceneSettings() {
  return (
    <Popup id="scene settings" content={() => <Fields />} placement="topLeft" title="Scene">
      <Button type="text" size="small" aria-label="Scene settings" title="Name, range, rate and units of the scene" icon={<SettingOutlined />} />
    </Popup>
  );
}

function Fields() {
  const edit = useEdit();
  const { name, first, last, fps, units } = useOpenScene((scene) => scene.header);
  const { length = "m", angle = "degrees" } = units;
  const [keep, setKeep] = useState<"times" | "frames">("times");
  const numbers = [
    ["First frame", first, (value: number) => ({ first: Math.round(value) })],
    ["Last frame", last, (value: number) => ({ last: Math.round(value) })],
  ] as const;
  const rate = (value: number) =>
    void edit(keep === "times" ? { do: "change rate", fps: value } : { do: "change scene", fps: value });
  return (
    <div style={{ display: "grid", gridTemplateColumns: "auto 160px", gap: 6, alignItems: "center" }}>
      <span>Name</span>
      <TextField label="Name of the scene" value={name} width="100%" onCommit={(text) => edit({ do: "change scene", name: text })} />
      {numbers.map(([label, value, change]) => (
        <span key={label} style={{ display: "contents" }}>
          <span>{label}</span>
          <NumberField
            label={label}
            value={value}
            text={String(value)}
            step={1}
            onCommit={(next) => void edit({ do: "change scene", ...change(next) })}
          />
        </span>
      ))}
      <span>Frames a second</span>
      <NumberField label="Frames a second" value={fps} text={String(fps)} step={1} onCommit={rate} />
      <span>A new rate keeps</span>
      <Segmented
        size="small"
        aria-label="What a new rate keeps"
        options={["times", "frames"]}
        value={keep}
        onChange={(value) => { setKeep(value as "times" | "frames"); }}
      />
      <span>Lengths in</span>
      <Segmented size="small" aria-label="Lengths in" options={["m", "cm", "mm"]} value={length} onChange={(value) => void edit({ do: "set units", angle, length: value as typeof length })} />
      <span>Angles in</span>
      <Segmented size="small" aria-label="Angles in" options={["degrees", "turns"]} value={angle} onChange={(value) => void edit({ do: "set units", length, angle: value as typeof angle })} />
    </div>
  );
}
