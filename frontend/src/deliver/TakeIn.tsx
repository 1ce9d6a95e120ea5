import { App, Button, Select, Upload } from "antd";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";

import type { TakeInView } from "../api/client";
import { postFile, reason } from "../api/client";
import { takeIn } from "../state/scene";
import { useOpenScene } from "../state/openScene";
import { Chapter } from "../shared/Chapter";
import { fileUnits, saysNoUnit } from "../shared/fileUnits";
import { ink } from "../shared/theme";
import type { Show } from "./panel";

/** What is wanted of a file beside its name: which of its clips, and how many metres its unit is. */
type Wish = { clip?: string; unit?: string };

/** A file of another program: looked at first, then taken in onto parts of its names, or as a new scene. */
export function TakeIn({ onShow }: { onShow: Show }) {
  const { file, seen, ...taking } = useTakeIn(onShow);
  return (
    <section aria-label="Take in" style={{ display: "grid", gap: 6 }}>
      <Chapter name="take in" of="Handing over" />
      <Upload accept=".glb,.gltf,.usd,.usda,.usdc,.bvh,.csv" showUploadList={false} beforeUpload={(of) => { taking.look(of, {}); return false; }}>
        <Button size="small">glTF, USD, BVH, CSV…</Button>
      </Upload>
      {seen && file && <WhatItHolds file={file} seen={seen} {...taking} />}
    </section>
  );
}

/** The file that was chosen, what it holds, and what is done with it. */
function useTakeIn(onShow: Show) {
  const { message } = App.useApp();
  const navigate = useNavigate();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const [file, setFile] = useState<File | null>(null);
  const [seen, setSeen] = useState<TakeInView | null>(null);
  const [wish, setWish] = useState<Wish>({});
  const [busy, setBusy] = useState(false);
  // The newest look counts, in whatever order the answers come.
  const looks = useRef(0);
  const failed = (error: unknown) => { setSeen(null); void message.error(reason(error), 8); };
  const once = (work: Promise<unknown>) => {
    setBusy(true);
    void work.catch(failed).finally(() => { setBusy(false); });
  };
  const query = (of: File, wanted: Wish) => new URLSearchParams({ file: of.name, ...wanted }).toString();
  const look = (of: File, wanted: Wish) => {
    setFile(of);
    setWish(wanted);
    looks.current += 1;
    const look = looks.current;
    postFile<TakeInView>(`/api/scenes/${String(sceneId)}/take-in/look?${query(of, wanted)}`, of).then(
      (view) => {
        if (look !== looks.current) return;
        setSeen(view);
        onShow({ what: "report", title: of.name, report: view.report });
      },
      (error: unknown) => { if (look === looks.current) failed(error); },
    );
  };
  const onto = () => {
    if (!file) return;
    once(takeIn(sceneId, file, wish).then(() => { void message.info(`took in ${file.name}`, 3); setSeen(null); }));
  };
  const anew = () => {
    if (!file) return;
    once(postFile<TakeInView>(`/api/scenes/take-in?${query(file, wish)}`, file).then((view) => { if (view.scene !== null) void navigate(`/scenes/${String(view.scene)}/bench`); }));
  };
  return { file, seen, wish, busy, look, onto, anew };
}

interface HoldsProps extends Omit<ReturnType<typeof useTakeIn>, "file" | "seen"> {
  file: File;
  seen: TakeInView;
}

/** What the file holds, and where it may go. */
function WhatItHolds({ file, seen, wish, busy, look, onto, anew }: HoldsProps) {
  const found = seen.matches.filter(({ part }) => part !== null).length;
  const channels = seen.channels.length;
  const missing = seen.matches.filter(({ part }) => part === null).map(({ name }) => name);
  return (
    <div aria-label="What the file holds" style={{ display: "grid", gap: 5, fontSize: 12 }}>
      <strong style={{ overflowWrap: "anywhere" }}>{file.name}</strong>
      {seen.clips.length > 1 && <Select size="small" aria-label="Clip that is taken in" value={wish.clip ?? seen.clips[0] ?? null} options={seen.clips.map((value) => ({ value, label: value }))} onChange={(clip: string | null) => { if (clip !== null) look(file, { ...wish, clip }); }} />}
      {saysNoUnit(file) && <Select size="small" aria-label="Unit of the file" title="The file does not say in which unit its lengths are" value={wish.unit ?? "1"} options={fileUnits} onChange={(unit: string) => { look(file, { ...wish, unit }); }} />}
      {(seen.matches.length > 0 || !channels) && <span>{found} of {seen.matches.length} parts have the name of a part here</span>}
      {channels > 0 && <span style={{ overflowWrap: "anywhere" }} title={seen.channels.join("\n")}>{channels} {channels === 1 ? "channel comes" : "channels come"} in by name</span>}
      {missing.length > 0 && <span style={{ color: ink.trouble, overflowWrap: "anywhere" }}>not here: {missing.slice(0, 6).join(", ")}{missing.length > 6 ? ` and ${String(missing.length - 6)} more` : ""}</span>}
      <div style={{ display: "flex", gap: 4 }}>
        <Button size="small" type="primary" disabled={!(found || channels) || busy} title="Keys on these parts and channels; one edit, which undo takes back" onClick={onto}>Onto these</Button>
        <Button size="small" disabled={busy || !seen.matches.length} title={seen.matches.length ? "All of the file as a scene of its own" : "It holds no whole places of parts, only channels of some"} onClick={anew}>As a new scene</Button>
      </div>
    </div>
  );
}
