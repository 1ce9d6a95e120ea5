import { EyeOutlined } from "@ant-design/icons";
import { Button, Checkbox, Input, Table } from "antd";
import { useMemo, useState } from "react";

import type { OrderView } from "../state/order";
import { useAbout } from "../state/order";
import { useEdit } from "../state/useEdit";
import { useOpenScene } from "../state/openScene";
import { chooseChannel, chooseStep, useSelection } from "../state/selection";
import { duration } from "../shared/format";
import { useSize } from "../shared/useSize";
import { ink } from "../shared/theme";

type Row = OrderView["rows"][number];

/** The order of evaluation: of the selection, or of the whole scene, with ranks and costs. */
export function OrderList() {
  const { data } = useAbout<OrderView>("order");
  const part = useSelection((selection) => selection.part);
  const [whole, setWhole] = useState(false);
  const [search, setSearch] = useState("");
  const [costly, setCostly] = useState(false);
  const { ref, height } = useSize<HTMLDivElement>();
  const rows = useMemo(() => listed(data?.rows ?? [], whole ? null : part, search, costly), [data, whole, part, search, costly]);
  return (
    <>
      <div className="caps" style={{ display: "flex", padding: "8px 0 4px" }}>
        <span style={{ flex: 1 }}>Order of {whole || !part ? "the scene" : "the selection"}</span>
        <span className="mono">{rows.length}</span>
      </div>
      <div style={{ display: "flex", gap: 6, alignItems: "center", paddingBottom: 6 }} onKeyDown={(event) => { event.stopPropagation(); }}>
        <Input size="small" allowClear aria-label="Find in the order" placeholder="find" value={search} onChange={(event) => { setSearch(event.target.value); }} />
        <Checkbox checked={whole} onChange={() => { setWhole(!whole); }}>all</Checkbox>
        <Checkbox checked={costly} title="The costliest first" onChange={() => { setCostly(!costly); }}>costs</Checkbox>
      </div>
      <div ref={ref} style={{ flex: 1, minHeight: 140, overflow: "hidden" }}>
        <Table<Row & { place: number }>
          size="small"
          virtual
          showHeader={false}
          pagination={false}
          scroll={{ y: Math.max(height - 4, 130), x: 268 }}
          rowKey="place"
          dataSource={rows}
          locale={{ emptyText: <span style={{ color: ink.quiet }}>{data ? "Nothing here is computed from anything." : "The order is coming …"}</span> }}
          // The scrollbar lies over the end of the last column.
          columns={[
            { dataIndex: "rank", width: 30, onCell: tight, render: (rank: number) => <span className="mono" style={{ color: ink.quiet }}>{rank}</span> },
            { width: 162, ellipsis: true, onCell: tight, render: (_, row) => <Line row={row} own={part !== null && !whole && !search} /> },
            { width: 76, align: "right", onCell: () => ({ style: { padding: "1px 12px 1px 0" } }), render: (_, row) => <Cost row={row} /> },
          ]}
        />
      </div>
    </>
  );
}

const tight = () => ({ style: { padding: "1px 5px" } });

function listed(rows: Row[], part: string | null, search: string, costly: boolean) {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const found = rows
    .map((row, place) => ({ ...row, place }))
    .filter((row) => (part === null || words.length > 0 || row.part === part) && words.every((word) => row.label.toLowerCase().includes(word)));
  return costly ? found.sort((a, b) => b.cost - a.cost) : found;
}

function Line({ row, own }: { row: Row; own: boolean }) {
  const part = useOpenScene((scene) => scene.parts[row.part]);
  const label = own && part ? row.label.replace(`${part.name}.`, "") : row.label;
  return (
    <button
      type="button"
      title={`${row.label}: open its ledger`}
      onClick={() => {
        chooseChannel(row.part, row.channel);
        chooseStep(row.step);
      }}
      style={{ all: "unset", cursor: "pointer", display: "block", width: "100%", fontSize: 12, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap", color: row.held ? ink.trouble : ink.ink }}
    >
      {label}{row.held ? " · held" : ""}
    </button>
  );
}

/** How long it took last; a costly step can be muted here. */
function Cost({ row }: { row: Row }) {
  const edit = useEdit();
  const step = useOpenScene((scene) => scene.parts[row.part]?.steps.find(({ id }) => id === row.step));
  return (
    <span className="mono" style={{ fontSize: 11, whiteSpace: "nowrap" }}>
      {duration(row.cost)}
      {step && <Button type="text" size="small" aria-label={`Mute ${step.name}`} title="Mute this step" icon={<EyeOutlined style={{ fontSize: 11 }} />} style={{ height: 16, width: 16 }} onClick={() => void edit({ do: "change step", step: step.id, on: false })} />}
    </span>
  );
}
