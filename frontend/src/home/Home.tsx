import { Alert, Button, Space, Typography, Upload } from "antd";

import { reasonNow } from "../api/client";
import { Brand } from "../shared/Brand";
import { NewScene } from "./NewScene";
import { SceneTable } from "./SceneTable";
import { useScenes } from "./useScenes";

/** The home page: all scenes; open, start, import, export and delete them. */
export function Home() {
  const { scenes, add, bring, remove } = useScenes();
  return (
    <div className="scroll" style={{ height: "100%" }}>
      <div style={{ maxWidth: 980, margin: "0 auto", padding: "28px 24px" }}>
        <Brand />
        <Typography.Paragraph type="secondary" style={{ margin: "10px 0 26px", fontSize: 14 }}>
          Build the control system of a rig, and see why every value is what it is.
        </Typography.Paragraph>
        <div style={{ display: "flex", alignItems: "center", marginBottom: 12 }}>
          <h1 style={{ fontSize: 18, margin: 0, flex: 1 }}>Scenes</h1>
          <Space>
            <NewScene busy={add.isPending} onAdd={add.mutate} />
            <Upload
              accept=".json"
              showUploadList={false}
              beforeUpload={(file) => {
                bring.mutate(file);
                return false;
              }}
            >
              <Button loading={bring.isPending}>Import a file…</Button>
            </Upload>
          </Space>
        </div>
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
          onRemove={remove.mutate}
        />
      </div>
    </div>
  );
}
