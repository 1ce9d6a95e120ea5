import { Alert, Button, Input, Select, Space, Typography, Upload } from "antd";
import { useState } from "react";

import { reasonNow } from "../api/client";
import { openGuide } from "../state/guide";
import { useWaitingWords } from "../state/waiting";
import { PaperChoice } from "../commands/PaperChoice";
import { Brand } from "../shared/Brand";
import { saysNoUnit } from "../shared/fileUnits";
import { ink } from "../shared/theme";
import { Bin } from "./Bin";
import { NewScene } from "./NewScene";
import { SceneTable } from "./SceneTable";
import { UnitAsked } from "./UnitAsked";
import { useExamples, useScenes } from "./useScenes";

/** The home page: all scenes; open, start, import, copy, export and delete them. Files can be dropped
 * anywhere on it. */
export function Home() {
  const { scenes, add, first, tag, bring, copy, example, remove } = useScenes();
  const examples = useExamples();
  const [search, setSearch] = useState("");
  const waiting = useWaitingWords();
  const [unsaid, setUnsaid] = useState<File[]>([]);
  const take = (files: File[]) => {
    const told = files.filter((file) => !saysNoUnit(file));
    if (told.length) bring.mutate(told.map((file) => ({ file })));
    setUnsaid((before) => [...before, ...files.filter(saysNoUnit)]);
  };
  return (
    <main
      className="scroll"
      style={{ height: "100%" }}
      onDragOver={(event) => { event.preventDefault(); }}
      onDrop={(event) => {
        event.preventDefault();
        take([...event.dataTransfer.files]);
      }}
    >
      <div style={{ maxWidth: 1200, margin: "0 auto", padding: "28px 24px" }}>
        <div style={{ display: "flex", justifyContent: "space-between", alignItems: "center" }}>
          <Brand />
          <span role="status" style={{ color: ink.trouble }}>{waiting}</span>
          <span style={{ display: "flex", gap: 12, alignItems: "center" }}>
            <PaperChoice />
            <Button size="small" loading={first.isPending} title="A short path through a scene of its own: from nothing to a wheel that turns by the way it has gone" onClick={() => { first.mutate(); }}>First five minutes</Button>
            <Button size="small" onClick={() => { openGuide("Words"); }}>Guide</Button>
          </span>
        </div>
        <Typography.Paragraph type="secondary" style={{ margin: "10px 0 26px", fontSize: 14 }}>
          Build the control system of a rig, and see why every value is what it is.
        </Typography.Paragraph>
        <div style={{ display: "flex", alignItems: "center", marginBottom: 12 }}>
          <h1 style={{ fontSize: 18, margin: 0 }}>Scenes</h1>
          <Input allowClear aria-label="Find a scene" placeholder="Find a scene" style={{ width: 140, margin: "0 auto 0 16px" }} value={search} onChange={(event) => { setSearch(event.target.value); }} />
          <Space>
            <NewScene starts={examples.starts} busy={add.isPending} onAdd={(name, start) => { add.mutate({ name, start }); }} />
            <Upload
              accept=".json,.glb,.gltf,.usd,.usda,.usdc,.bvh,.csv"
              multiple
              showUploadList={false}
              beforeUpload={(file, all) => {
                if (file === all.at(-1)) take(all);
                return false;
              }}
            >
              <Button loading={bring.isPending} title="Or drop files anywhere here">Import files…</Button>
            </Upload>
            <Select aria-label="Open an example" placeholder="Example…" popupMatchSelectWidth={false} style={{ width: 120 }} loading={example.isPending} value={null} options={examples.names.map((value) => ({ value, label: value }))} onChange={(name: string | null) => { if (name) example.mutate(name); }} />
          </Space>
        </div>
        {unsaid.length > 0 && (
          <UnitAsked
            files={unsaid}
            onImport={(unit) => {
              bring.mutate(unsaid.map((file) => ({ file, unit })));
              setUnsaid([]);
            }}
            onLeave={() => { setUnsaid([]); }}
          />
        )}
        {scenes.error ? (
          <Alert
            type="warning"
            showIcon
            style={{ marginBottom: 12 }}
            title={reasonNow(scenes.error)}
          />
        ) : null}
        <SceneTable
          scenes={scenes.data}
          pending={scenes.isPending}
          failed={scenes.error !== null}
          search={search}
          onTag={tag.mutate}
          onCopy={copy.mutate}
          onRemove={remove.mutate}
        />
        <Bin />
      </div>
    </main>
  );
}
