import { Button, Select, Space, Table } from "antd";
import type { TableColumnsType } from "antd";
import type { ReactNode } from "react";
import { useState } from "react";
import { Link } from "react-router";

import type { SceneEntry } from "../api/client";
import { fits } from "../shared/byName";
import { ink } from "../shared/theme";
import { Confirm } from "../shared/Confirm";

interface Props {
  scenes: SceneEntry[] | undefined;
  pending: boolean;
  failed: boolean;
  /** Words that the names or tags of shown scenes hold. */
  search: string;
  onTag: (wish: { id: number; tags: string[] }) => void;
  onCopy: (id: number) => void;
  onRemove: (id: number) => void;
}

// A row takes some milliseconds to draw.
const ON_A_PAGE = 25;

/** All scenes, by pages, each with a way in and out. */
export function SceneTable({ scenes, pending, failed, search, onTag, onCopy, onRemove }: Props) {
  const [turned, setTurned] = useState({ search, page: 1 });
  const known = [...new Set((scenes ?? []).flatMap(({ tags }) => tags ?? []))].sort();
  return (
    <Table<SceneEntry>
      rowKey="id"
      dataSource={(scenes ?? []).filter(({ name, tags }) => fits([name, ...(tags ?? [])].join(" "), search))}
      loading={pending}
      pagination={{
        pageSize: ON_A_PAGE,
        hideOnSinglePage: true,
        showSizeChanger: false,
        // What is searched for is shown from its beginning.
        current: turned.search === search ? turned.page : 1,
        onChange: (page) => { setTurned({ search, page }); },
      }}
      locale={{
        emptyText: pending ? (
          <span className="unseen">The scenes are being read.</span>
        ) : failed ? (
          "The scenes cannot be read just now."
        ) : scenes?.length ? (
          <Nothing>No scene has “{search}” in its name or tags.</Nothing>
        ) : (
          <Nothing>No scenes. Name a new one above, import a file, or open an example.</Nothing>
        ),
      }}
      columns={[
        ...columns,
        { title: "Tags", render: (_, entry) => <Tags entry={entry} known={known} onTag={onTag} /> },
        { title: <span className="unseen">What can be done</span>, align: "right", render: (_, entry) => <EntryTools entry={entry} onCopy={onCopy} onRemove={onRemove} /> },
      ]}
    />
  );
}

function Nothing({ children }: { children: ReactNode }) {
  return <p style={{ margin: "24px 0", color: ink.quiet }}>{children}</p>;
}

/** Words by which a scene is found; typed, or taken from those of other scenes. */
function Tags({ entry, known, onTag }: { entry: SceneEntry; known: string[]; onTag: Props["onTag"] }) {
  return (
    <Select
      mode="tags"
      size="small"
      variant="borderless"
      aria-label={`Tags of ${entry.name}`}
      placeholder="+ tag"
      suffixIcon={null}
      style={{ width: 150, marginLeft: -8 }}
      maxCount={12}
      value={entry.tags ?? []}
      options={known.map((value) => ({ value, label: value }))}
      onChange={(tags: string[]) => { onTag({ id: entry.id, tags }); }}
    />
  );
}

/** A scene as it was last looked at. */
function Picture({ entry }: { entry: SceneEntry }) {
  const at = `/api/scenes/${String(entry.id)}/picture?v=${String(entry.pictured)}`;
  const style = { display: "block", width: 80, height: 50, borderRadius: 4, background: ink.sky, objectFit: "cover" } as const;
  return entry.pictured === null ? <span aria-hidden style={style} /> : <img src={at} alt="" style={style} />;
}

/** What checks found that nobody accepted; they look while a scene is open. */
function Findings({ entry: { id, name, findings } }: { entry: SceneEntry }) {
  if (findings == null) return <span title="Not looked at since its last edit: open it" style={{ color: ink.quiet }}>–</span>;
  if (!findings) return <span className="mono" style={{ color: ink.quiet }}>0</span>;
  return <Link className="mono" to={`/scenes/${String(id)}/checks`} title={`What checks found in ${name}`}>{findings}</Link>;
}

const columns: TableColumnsType<SceneEntry> = [
  { title: <span className="unseen">Picture</span>, width: 96, render: (_, entry) => <Picture entry={entry} /> },
  {
    title: "Name",
    sorter: (a, b) => a.name.localeCompare(b.name),
    render: (_, entry) => (
      <Link to={`/scenes/${String(entry.id)}/bench`} style={{ fontWeight: 600 }}>
        {entry.name}
      </Link>
    ),
  },
  { title: "Parts", render: (_, e) => <span className="mono">{e.parts}</span>, align: "right", sorter: (a, b) => a.parts - b.parts },
  { title: "Frames", align: "right", render: (_, e) => <span className="mono line">{e.first} … {e.last}</span> },
  { title: "Rate", align: "right", render: (_, e) => <span className="mono line">{e.fps} fps</span> },
  { title: "Findings", align: "right", render: (_, entry) => <Findings entry={entry} />, sorter: (a, b) => (a.findings ?? -1) - (b.findings ?? -1) },
  { title: "Edits", align: "right", render: (_, e) => <span className="mono">{e.revision}</span> },
  {
    title: "Changed",
    defaultSortOrder: "descend",
    sorter: (a, b) => a.changed.localeCompare(b.changed),
    render: (_, e) => <span className="line">{new Date(`${e.changed}Z`).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}</span>,
  },
];

function EntryTools({ entry, onCopy, onRemove }: { entry: SceneEntry; onCopy: (id: number) => void; onRemove: (id: number) => void }) {
  return (
    <Space>
      <Button size="small" title="The same once more, with a history of its own" onClick={() => { onCopy(entry.id); }}>
        Duplicate
      </Button>
      <Button size="small" href={`/api/scenes/${String(entry.id)}/export`}>
        Export
      </Button>
      <Confirm
        title={`Delete “${entry.name}”?`}
        text="It goes into the bin with its history, and can be brought back from there."
        yes="Delete"
        placement="leftTop"
        onYes={() => { onRemove(entry.id); }}
      >
        <Button size="small">Delete</Button>
      </Confirm>
    </Space>
  );
}
