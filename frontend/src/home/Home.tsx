import { useMutation, useQuery } from "@tanstack/react-query";
import { Alert, App, Button, Empty, Input, Popconfirm, Space, Table, Typography, Upload } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import type { SceneEntry, SceneList } from "../api/client";
import { ask, get, post, reason } from "../api/client";
import { againWhenFailed, queryClient } from "../api/queryClient";
import { Brand } from "../shell/Brand";

const list = ["scenes"];

const addScene = (name: string) => post<SceneEntry>("/api/scenes", { name });

async function importScene(file: File) {
  const headers = { "Content-Type": "application/json" };
  const response = await ask("/api/scenes/import", { method: "POST", headers, body: file });
  return (await response.json()) as SceneEntry;
}

const removeScene = (id: number) => ask(`/api/scenes/${String(id)}`, { method: "DELETE" });

/** The home page: all scenes; open, start, import, export and delete them. */
export function Home() {
  const { message } = App.useApp();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const scenes = useQuery({
    queryKey: list,
    queryFn: async () => (await get<SceneList>("/api/scenes")).scenes,
    refetchInterval: againWhenFailed,
  });
  const failed = (error: unknown) => void message.error(reason(error), 8);
  const open = (entry: SceneEntry) => void navigate(`/scenes/${String(entry.id)}/bench`);
  const add = useMutation({ mutationFn: addScene, onSuccess: open, onError: failed });
  const bring = useMutation({
    mutationFn: importScene,
    onError: failed,
    onSuccess: (entry) => {
      void message.success(`Imported ${entry.name}.`);
      void queryClient.invalidateQueries({ queryKey: list });
    },
  });
  const remove = useMutation({
    mutationFn: removeScene,
    onError: failed,
    onSettled: () => void queryClient.invalidateQueries({ queryKey: list }),
  });

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
            <Space.Compact>
              <Input
                aria-label="Name of a new scene"
                placeholder="Name of a new scene"
                value={name}
                maxLength={80}
                onChange={(event) => {
                  setName(event.target.value);
                }}
                onPressEnter={() => {
                  if (name.trim()) add.mutate(name);
                }}
              />
              <Button
                type="primary"
                disabled={!name.trim()}
                loading={add.isPending}
                onClick={() => {
                  add.mutate(name);
                }}
              >
                New scene
              </Button>
            </Space.Compact>
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
            title={`${reason(scenes.error)} Trying again by itself.`}
          />
        ) : null}
        <Table<SceneEntry>
          rowKey="id"
          dataSource={scenes.data ?? []}
          loading={scenes.isPending}
          pagination={false}
          locale={{
            emptyText: scenes.error ? (
              "The scenes cannot be read just now."
            ) : (
              <Empty description="No scenes. Name a new one above, or import a file." />
            ),
          }}
          columns={[
            {
              title: "Name",
              render: (_, entry) => (
                <Link to={`/scenes/${String(entry.id)}/bench`} style={{ fontWeight: 600 }}>
                  {entry.name}
                </Link>
              ),
            },
            { title: "Parts", dataIndex: "parts", className: "mono", align: "right" },
            {
              title: "Frames",
              className: "mono",
              align: "right",
              render: (_, e) => `${String(e.first)} … ${String(e.last)}`,
            },
            {
              title: "Rate",
              className: "mono",
              align: "right",
              render: (_, e) => `${String(e.fps)} fps`,
            },
            { title: "Edits", dataIndex: "revision", className: "mono", align: "right" },
            {
              title: "Changed",
              render: (_, e) => new Date(`${e.changed}Z`).toLocaleString("en-GB", {
                dateStyle: "medium",
                timeStyle: "short",
              }),
            },
            {
              title: "",
              align: "right",
              render: (_, entry) => (
                <Space>
                  <Button size="small" href={`/api/scenes/${String(entry.id)}/export`}>
                    Export
                  </Button>
                  <Popconfirm
                    title={`Delete “${entry.name}”?`}
                    description="The scene and its history go for good."
                    okText="Delete"
                    okButtonProps={{ danger: true }}
                    onConfirm={() => {
                      remove.mutate(entry.id);
                    }}
                  >
                    <Button size="small">Delete</Button>
                  </Popconfirm>
                </Space>
              ),
            },
          ]}
        />
      </div>
    </div>
  );
}
