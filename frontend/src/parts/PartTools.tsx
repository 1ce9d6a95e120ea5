import { CopyOutlined, DeleteOutlined, EditOutlined, PlusOutlined, PushpinFilled, PushpinOutlined } from "@ant-design/icons";
import { App, Button, Space } from "antd";
import { useState } from "react";

import { reason } from "../api/client";
import { sendEdits } from "../state/scene";
import { useKeys } from "../commands/shortcuts";
import { useEdit } from "../state/useEdit";
import { useChosenName, useOpenScene } from "../state/openScene";
import { choosePart, chooseParts, useSelection } from "../state/selection";
import { Confirm } from "../shared/Confirm";
import { Hint } from "../shared/Hint";
import { Popup } from "../shared/Popup";
import { RenameMany } from "./RenameMany";
import { useKeepPlace } from "./keepPlace";

/** Adds, renames, duplicates and deletes parts. */
export function PartTools({ onRename }: { onRename: (part: string) => void }) {
  const name = useChosenName();
  const add = useAddPart(onRename);
  const edit = useEdit();
  const keepPlace = useKeepPlace((state) => state.keepPlace);
  const duplicate = async () => {
    const tops = topmost(useSelection.getState().parts);
    const before = new Set(Object.keys(useOpenScene.getState().parts));
    if (!(await edit(...tops.map((one) => ({ do: "duplicate part" as const, part: one }))))) return;
    const copies = Object.keys(useOpenScene.getState().parts).filter((id) => !before.has(id));
    chooseParts(topmost(copies));
  };
  const where = name === undefined ? "at the top" : `below ${name}`;
  return (
    <Space size={0}>
      <Hint title={`Add a part ${where}`}>
        <Button type="text" size="small" aria-label="Add a part" icon={<PlusOutlined />} onClick={() => void add(name === undefined ? null : useSelection.getState().part)} />
      </Hint>
      <Hint title={keepPlace ? "A part that gets another parent stays where it is in the world, on every frame" : "A part that gets another parent keeps its numbers, and moves"}>
        <Button
          type="text"
          size="small"
          aria-label="Keep the place under another parent"
          aria-pressed={keepPlace}
          icon={keepPlace ? <PushpinFilled /> : <PushpinOutlined />}
          onClick={() => { useKeepPlace.setState({ keepPlace: !keepPlace }); }}
        />
      </Hint>
      <Rename onRename={onRename} />
      <Hint title="Duplicate the chosen parts with all below them">
        <Button type="text" size="small" aria-label="Duplicate the part" disabled={name === undefined} icon={<CopyOutlined />} onClick={() => void duplicate()} />
      </Hint>
      <DeleteParts />
    </Space>
  );
}

/** Renames the chosen part in the tree, or several by a pattern. */
function Rename({ onRename }: { onRename: (part: string) => void }) {
  const keys = useKeys((all) => all.rename);
  const name = useChosenName();
  const several = useSelection(({ parts }) => parts.length > 1);
  if (several) {
    return (
      <Popup title="Names of the chosen parts" placement="rightTop" content={(close) => <RenameMany onDone={close} />}>
        <Button type="text" size="small" aria-label="Rename the parts" title="Rename the chosen parts by a pattern" icon={<EditOutlined />} />
      </Popup>
    );
  }
  return (
    <Hint title={`Rename the chosen part (${keys})`}>
      <Button type="text" size="small" aria-label="Rename the part" disabled={name === undefined} icon={<EditOutlined />} onClick={() => { onRename(useSelection.getState().part ?? ""); }} />
    </Hint>
  );
}

/** Deletes the chosen parts; asks first, and again where other steps read them. */
function DeleteParts() {
  const name = useChosenName();
  const chosen = useSelection((selection) => selection.parts);
  const [readers, setReaders] = useState<string | null>(null);
  const { message } = App.useApp();
  const what = chosen.length > 1 ? `${String(chosen.length)} parts` : (name ?? "");
  const remove = async () => {
    const { sceneId, parts } = useOpenScene.getState();
    const above = parts[useSelection.getState().part ?? ""]?.parent ?? null;
    try {
      await sendEdits(sceneId, [{ do: "remove parts", parts: chosen, readers: readers !== null }]);
      setReaders(null);
      choosePart(above);
    } catch (error) {
      const found = /it (?:is read by |is the |is in the )(.*); change or delete/.exec(reason(error));
      if (found?.[1] && readers === null) setReaders(found[1]);
      else void message.error(reason(error), 6);
      return false;
    }
    return true;
  };
  return (
    <Confirm
      title={readers ? "Other steps read it" : `Delete ${what} and all below?`}
      text={readers ? `${readers}. A step with other targets lets go of it; all others are deleted too.` : "Undo brings it back."}
      yes={readers ? "Delete with these steps" : "Delete"}
      placement="rightTop"
      onYes={remove}
      onNo={() => { setReaders(null); }}
    >
      <Button type="text" size="small" aria-label="Delete the part" title="Delete the chosen parts with all below them" disabled={name === undefined} icon={<DeleteOutlined />} />
    </Confirm>
  );
}

/** Adds a part with a free name, chooses it, and lets its name be typed. */
export function useAddPart(onRename: (part: string) => void) {
  const edit = useEdit();
  return async (parent: string | null) => {
    const names = new Set(Object.values(useOpenScene.getState().parts).map(({ name }) => name));
    let number = names.size + 1;
    while (names.has(`part ${String(number)}`)) number += 1;
    const name = `part ${String(number)}`;
    const shape = { kind: "box" as const, size: [0.4, 0.4, 0.4] as [number, number, number] };
    if (!(await edit({ do: "add part", name, parent, shape }))) return;
    const id = newest();
    choosePart(id);
    if (id) onRename(id);
  };
}

/** Those of some parts that lie below none of the others. */
export function topmost(chosen: string[]): string[] {
  const { parts } = useOpenScene.getState();
  const below = (id: string | null | undefined): boolean => (id ? chosen.includes(id) || below(parts[id]?.parent) : false);
  return chosen.filter((id) => !below(parts[id]?.parent));
}

/** The part that was added last: the one with the highest number. */
function newest(): string | null {
  const ids = Object.keys(useOpenScene.getState().parts);
  const number = (id: string) => Number(/\d+$/.exec(id)?.[0] ?? 0);
  return ids.reduce<string | null>((best, id) => (best && number(best) > number(id) ? best : id), null);
}
