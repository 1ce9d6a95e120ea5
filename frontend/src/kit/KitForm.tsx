import { CloseOutlined, DeleteOutlined } from "@ant-design/icons";
import { useEffect, useState } from "react";

import { closeForm, openForm, useKit } from "../state/kit";
import { useEdit } from "../state/useEdit";
import { Chapter } from "../shared/Chapter";
import { TextField } from "../shared/TextField";
import { ink } from "../shared/theme";
import { kindNamed } from "./Kit";
import type { KitKind } from "./kind";

/** The form of what is chosen in the kit, or of a new thing of its kind. */
export function KitForm() {
  const open = useKit((kit) => kit.open);
  const kind = open && kindNamed(open.kind);
  if (!kind) return null;
  return <Opened key={`${kind.name} ${open.id ?? "new"}`} kind={kind} id={open.id} />;
}

function Opened({ kind, id }: { kind: KitKind; id: string | null }) {
  const items = kind.useItems();
  const [before] = useState(() => new Set(items.map((one) => one.id)));
  const edit = useEdit();
  const item = items.find((one) => one.id === id);
  const gone = id !== null && !item;
  // What was deleted, here or by somebody else, has no form any more.
  useEffect(() => { if (gone) closeForm(); }, [gone]);
  const [wasMade, setWasMade] = useState(false);
  useEffect(() => {
    const made = wasMade && items.find((one) => !before.has(one.id));
    if (made) openForm(kind.name, made.id);
  }, [wasMade, items, before, kind]);
  const { Form, Make } = kind;
  return (
    <section
      aria-label={id === null ? `New ${kind.one}` : `Form of the ${kind.one}`}
      data-landmark
      tabIndex={-1}
      data-own="none"
      style={{ width: "min(276px, 46%)", flex: "none", height: "100%", boxSizing: "border-box", display: "flex", flexDirection: "column", background: ink.panel, borderRight: `1px solid ${ink.line}` }}
      onKeyDown={(event) => {
        if (event.key === "Escape") closeForm();
      }}
    >
      <div style={{ display: "flex", alignItems: "center", gap: 4, padding: "8px 8px 4px 12px" }}>
        <span style={{ flex: 1 }}><Chapter name={id === null ? `new ${kind.one}` : kind.one} of={kind.chapter} /></span>
        {item && <button type="button" className="bare" aria-label={`Delete the ${kind.one} ${item.name}`} title={`Delete the ${kind.one}. ${kind.gone}`} style={{ padding: "0 5px", color: ink.quiet, fontSize: 12 }} onClick={() => void kind.remove(item, edit)}><DeleteOutlined /></button>}
        <button type="button" className="bare" aria-label="Close the form" title="Close the form (Esc)" style={{ padding: "0 5px", color: ink.quiet, fontSize: 11 }} onClick={closeForm}><CloseOutlined /></button>
      </div>
      <div className="scroll" style={{ flex: 1, padding: "2px 12px 12px", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", alignContent: "start", gap: 8 }}>
        {id === null ? (
          <>
            <p style={{ margin: 0, fontSize: 12, color: ink.quiet }}>{kind.why}</p>
            <Make onMade={() => { setWasMade(true); }} />
          </>
        ) : (
          <>
            {item && <TextField label={`Name of the ${kind.one} ${item.name}`} value={item.name} width="100%" strong onCommit={(name) => kind.rename(item, name, edit)} />}
            <Form id={id} />
          </>
        )}
      </div>
    </section>
  );
}
