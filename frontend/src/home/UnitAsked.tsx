import { Button, Select } from "antd";
import { useState } from "react";

import { fileUnits } from "../shared/fileUnits";
import { ink } from "../shared/theme";

/** Asks for the unit of files that do not say it, before scenes are made of them. */
export function UnitAsked({ files, onImport, onLeave }: { files: File[]; onImport: (unit: string) => void; onLeave: () => void }) {
  const [unit, setUnit] = useState("1");
  return (
    <section aria-label="Files without a unit" style={{ display: "flex", alignItems: "center", gap: 8, marginBottom: 12, padding: "8px 12px", background: ink.panel, border: `1px solid ${ink.line}`, borderRadius: 8 }}>
      <span style={{ flex: 1, minWidth: 0, overflowWrap: "anywhere" }}>{listed(files.map(({ name }) => name))} {files.length === 1 ? "does" : "do"} not say in which unit lengths are.</span>
      <Select size="small" aria-label="Unit of the files" style={{ width: 190, flex: "none" }} value={unit} options={fileUnits} onChange={setUnit} />
      <Button size="small" type="primary" onClick={() => { onImport(unit); }}>Import</Button>
      <Button size="small" onClick={onLeave}>Not now</Button>
    </section>
  );
}

/** Names in a sentence, the first few of many. */
function listed(names: string[]): string {
  const first = names.slice(0, 3);
  const last = names.length > 3 ? `${String(names.length - 3)} more` : first.pop() ?? "";
  return first.length ? `${first.join(", ")} and ${last}` : last;
}
