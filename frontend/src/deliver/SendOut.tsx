import { App, Button, Select } from "antd";
import { useState } from "react";

import type { ReportView } from "../api/client";
import { ask, get, reason } from "../api/client";
import { counted } from "../shared/format";
import { useOpenScene } from "../state/openScene";
import { Chapter } from "../shared/Chapter";
import { ink } from "../shared/theme";
import type { Show } from "./panel";
import { useBakes } from "./useBakes";

const formats = [
  { format: "glb", label: "glTF 2.0", several: true },
  { format: "usda", label: "USD", several: false },
  { format: "usdc", label: "USD binary", several: false },
  { format: "bvh", label: "BVH", several: false },
  { format: "csv", label: "CSV", several: false },
] as const;

/** Files of bakes, each with a report that is measured on the file. */
export function SendOut({ onShow }: { onShow: Show }) {
  const { message } = App.useApp();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const name = useOpenScene((scene) => scene.header.name);
  const { data } = useBakes();
  const [busy, setBusy] = useState<string | null>(null);
  const [wanted, setWanted] = useState<string | null>(null);
  const bakes = data?.bakes ?? [];
  const one = bakes.find(({ id }) => id === wanted) ?? bakes[0];
  const send = async (format: string, several: boolean, save: boolean) => {
    const chosen = several ? "" : `?bakes=${one?.id ?? ""}`;
    setBusy(format);
    try {
      const report = await get<ReportView>(`/api/scenes/${String(sceneId)}/report/${format}${chosen}`);
      const file = `${name.toLowerCase().replaceAll(" ", "-")}.${format}`;
      onShow({ what: "report", title: file, report });
      if (save) download(await (await ask(`/api/scenes/${String(sceneId)}/send/${format}${chosen}`)).blob(), file);
    } catch (error) {
      void message.error(reason(error), 6);
    }
    setBusy(null);
  };
  return (
    <section aria-label="Send out" style={{ display: "grid", gap: 4 }}>
      <Chapter name="send out" of="Handing over" />
      {formats.map(({ format, label, several }) => (
        <div key={format} style={{ display: "flex", alignItems: "center", gap: 4 }}>
          <span style={{ flex: 1 }}>{label} <span style={{ color: ink.quiet, fontSize: 12 }}>{!bakes.length ? "" : several ? counted(bakes.length, "animation") : ""}</span></span>
          <Button type="text" size="small" disabled={!bakes.length || busy !== null} aria-label={`Report of ${label}`} title="What the file would hold, and how far off it would be" onClick={() => void send(format, several, false)}>report</Button>
          <Button size="small" disabled={!bakes.length || busy !== null} loading={busy === format} aria-label={`Save ${label}`} title={bakes.length ? "Saves the file, and shows its report" : "Bake something first"} onClick={() => void send(format, several, true)}>Save</Button>
        </div>
      ))}
      {bakes.length > 1 && (
        <span style={{ display: "flex", alignItems: "center", gap: 6, fontSize: 12, color: ink.quiet }}>
          <span style={{ flex: 1 }} title="All but glTF hold one bake a file">one bake a file:</span>
          <Select size="small" aria-label="Bake of the formats that hold one" style={{ width: 104 }} value={one?.id ?? null} options={bakes.map(({ id, name: label }) => ({ value: id, label }))} onChange={setWanted} />
        </span>
      )}
    </section>
  );
}

function download(data: Blob, name: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(data);
  link.download = name;
  link.click();
  // The browser takes the file in its own time.
  setTimeout(() => { URL.revokeObjectURL(link.href); }, 60_000);
}
