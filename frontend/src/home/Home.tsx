import { Alert, Input, Select, Space, Typography } from "antd";
import { useState } from "react";

import { reasonNow } from "../api/client";
import { Bin } from "./Bin";
import { HomeBar } from "./HomeBar";
import { ImportFiles } from "./ImportFiles";
import { NewScene } from "./NewScene";
import { SceneTable } from "./SceneTable";
import { UnitAsked } from "./UnitAsked";
import { useImport } from "./useImport";
import { useExamples, useScenes } from "./useScenes";

/** The home page: all scenes; open, start, import, copy, export and delete them. Files can be dropped
 * anywhere on it. */
export function Home() {
  const { scenes, add, first, tag, bring, copy, example, remove } = useScenes();
  const examples = useExamples();
  const [search, setSearch] = useState("");
  const { unsaid, take, takeIn, leave } = useImport(bring);
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
        <HomeBar begins={first.isPending} onBegin={() => { first.mutate(); }} />
        <Typography.Paragraph type="secondary" style={{ margin: "10px 0 26px", fontSize: 14 }}>
          Build the control system of a rig, and see why every value is what it is.
        </Typography.Paragraph>
        <div style={{ display: "flex", alignItems: "center", marginBottom: 12 }}>
          <h1 style={{ fontSize: 18, margin: 0 }}>Scenes</h1>
          <Input allowClear aria-label="Find a scene" placeholder="Find a scene" style={{ width: 140, margin: "0 auto 0 16px" }} value={search} onChange={(event) => { setSearch(event.target.value); }} />
          <Space>
            <NewScene starts={examples.starts} busy={add.isPending} onAdd={(name, start) => { add.mutate({ name, start }); }} />
            <ImportFiles busy={bring.isPending} onFiles={take} />
            <Select aria-label="Open an example" placeholder="Example…" popupMatchSelectWidth={false} style={{ width: 120 }} loading={example.isPending} value={null} options={examples.names.map((value) => ({ value, label: value }))} onChange={(name: string | null) => { if (name) example.mutate(name); }} />
          </Space>
        </div>
        {unsaid.length > 0 && <UnitAsked files={unsaid} onImport={takeIn} onLeave={leave} />}
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
