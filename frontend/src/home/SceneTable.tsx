import { Button, Empty, Space, Table } from "antd";
import type { TableColumnsType } from "antd";
import { Link } from "react-router";

import type { SceneEntry } from "../api/client";
import { Confirm } from "../shared/Confirm";

interface Props {
  scenes: SceneEntry[] | undefined;
  pending: boolean;
  failed: boolean;
  onRemove: (id: number) => void;
}

/** All scenes, each with a way in and out. */
export function SceneTable({ scenes, pending, failed, onRemove }: Props) {
  return (
    <Table<SceneEntry>
      rowKey="id"
      dataSource={scenes ?? []}
      loading={pending}
      pagination={false}
      locale={{
        emptyText: failed ? (
          "The scenes cannot be read just now."
        ) : (
          <Empty description="No scenes. Name a new one above, or import a file." />
        ),
      }}
      columns={[
        ...columns,
        { title: "", align: "right", render: (_, entry) => <EntryTools entry={entry} onRemove={onRemove} /> },
      ]}
    />
  );
}

const columns: TableColumnsType<SceneEntry> = [
  {
    title: "Name",
    render: (_, entry) => (
      <Link to={`/scenes/${String(entry.id)}/bench`} style={{ fontWeight: 600 }}>
        {entry.name}
      </Link>
    ),
  },
  { title: "Parts", dataIndex: "parts", className: "mono", align: "right" },
  { title: "Frames", className: "mono", align: "right", render: (_, e) => `${String(e.first)} … ${String(e.last)}` },
  { title: "Rate", className: "mono", align: "right", render: (_, e) => `${String(e.fps)} fps` },
  { title: "Edits", dataIndex: "revision", className: "mono", align: "right" },
  {
    title: "Changed",
    render: (_, e) => new Date(`${e.changed}Z`).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" }),
  },
];

function EntryTools({ entry, onRemove }: { entry: SceneEntry; onRemove: (id: number) => void }) {
  return (
    <Space>
      <Button size="small" href={`/api/scenes/${String(entry.id)}/export`}>
        Export
      </Button>
      <Confirm
        title={`Delete “${entry.name}”?`}
        text="The scene and its history go for good."
        yes="Delete"
        placement="leftTop"
        onYes={() => { onRemove(entry.id); }}
      >
        <Button size="small">Delete</Button>
      </Confirm>
    </Space>
  );
}
