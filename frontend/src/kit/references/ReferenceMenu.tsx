import { DeleteOutlined } from "@ant-design/icons";
import { App, Button, Segmented, Slider, Upload } from "antd";

import type { ReferenceView } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { changed } from "../../state/references";
import { useEdit } from "../../state/useEdit";
import { exact } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { Popup } from "../../shared/Popup";
import { TextField } from "../../shared/TextField";
import { ink } from "../../shared/theme";
import { freshName, read, types } from "./files";

/** Pictures and sounds that are pinned to frames. */
export function ReferenceMenu() {
  return (
    <Popup title="References" placement="bottomRight" content={() => <References />}>
      <Button size="small" title="Pictures and sounds pinned to frames, to work by">references…</Button>
    </Popup>
  );
}

function References() {
  const references = useOpenScene((scene) => scene.header.references);
  return (
    <div style={{ display: "grid", gap: 8, width: 360 }}>
      {!references.length && <span style={{ color: ink.quiet }}>None yet. A picture is seen beside or behind the view on its frames; a sound is heard while the scene plays, and its wave stands over the lanes.</span>}
      <div className="scroll" style={{ display: "grid", gap: 8, maxHeight: 300 }}>
        {references.map((one) => <Reference key={one.id} one={one} />)}
      </div>
      <Add />
    </div>
  );
}

function Reference({ one }: { one: ReferenceView }) {
  const edit = useEdit();
  const change = (what: Partial<ReferenceView>) => edit(changed(one, what));
  const picture = one.kind === "picture";
  return (
    <section aria-label={`Reference ${one.name}`} style={{ borderTop: `1px solid ${ink.line}`, paddingTop: 6, display: "grid", gap: 4 }}>
      <div style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <TextField label={`Name of ${one.name}`} value={one.name} strong onCommit={(name) => change({ name })} />
        <span style={{ color: ink.quiet, fontSize: 12 }}>{one.kind}</span>
        <Button type="text" size="small" aria-label={`Delete ${one.name}`} icon={<DeleteOutlined style={{ fontSize: 12 }} />} onClick={() => void edit({ do: "remove reference", id: one.id })} />
      </div>
      <div style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <NumberField label={`First frame of ${one.name}`} value={one.first} text={exact(one.first)} step={1} width={52} onCommit={(first) => void change({ first, last: one.last === null ? null : Math.max(first, one.last) })} />
        …
        <NumberField label={`Last frame of ${one.name}`} value={one.last ?? one.first} text={one.last === null ? "end" : exact(one.last)} step={1} width={52} meant={one.last === null} onCommit={(last) => void change({ last })} />
        <Button type="text" size="small" style={{ paddingInline: 4 }} disabled={one.last === null} title="To the end of the scene" onClick={() => void change({ last: null })}>to the end</Button>
        {picture && <Segmented size="small" aria-label={`Place of ${one.name}`} options={["beside", "behind"]} value={one.place} onChange={(place) => void change({ place: place as ReferenceView["place"] })} />}
      </div>
      <div style={{ display: "flex", alignItems: "center", gap: 8, fontSize: 12 }}>
        <span style={{ width: 48, color: ink.quiet }}>{picture ? "opacity" : "loudness"}</span>
        <Slider ariaLabelForHandle={`${picture ? "Opacity" : "Loudness"} of ${one.name}`} style={{ flex: 1, margin: "4px 0" }} min={0} max={1} step={0.05} value={one.opacity} onChange={(opacity) => { preview(one.id, opacity); }} onChangeComplete={(opacity) => void change({ opacity })} />
      </div>
    </section>
  );
}

/** Shows an opacity while its slider is dragged. */
function preview(id: string, opacity: number) {
  useOpenScene.setState(({ header }) => ({ header: { ...header, references: header.references.map((one) => (one.id === id ? { ...one, opacity } : one)) } }));
}

/** Brings files in, pinned from the playhead's frame on. */
function Add() {
  const edit = useEdit();
  const { message } = App.useApp();
  const add = async (file: File) => {
    const found = await read(file);
    if ("problem" in found) {
      void message.error(`${file.name}: ${found.problem}`, 8);
      return;
    }
    const name = freshName(file.name, useOpenScene.getState().header.references.map((one) => one.name));
    await edit({ do: "put reference", name, data: found.data, first: usePlayer.getState().frame });
  };
  return (
    <Upload
      accept={Object.keys(types).join(",")}
      multiple
      showUploadList={false}
      beforeUpload={(file) => {
        void add(file);
        return false;
      }}
    >
      <Button size="small" title="PNG, JPEG, WebP, WAV or Ogg, up to 4 MiB; from the playhead’s frame on">Pin files…</Button>
    </Upload>
  );
}
