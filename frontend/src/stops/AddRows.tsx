import { Button, Select, Space } from "antd";
import { memo, useState } from "react";

import type { DrivenView } from "../api/client";
import { useEdit } from "../state/useEdit";
import { channelsOf } from "../state/keying";
import { useOpenScene } from "../state/openScene";
import { useSelection } from "../state/selection";
import { byName, fits } from "../shared/byName";
import { ink } from "../shared/theme";

const groups = ["position", "rotation", "scale", "own channels"] as const;

/** Adds rows for channels: chosen by name, or of the chosen parts at once. */
export const AddRows = memo(function AddRows({ set }: { set: DrivenView }) {
  const edit = useEdit();
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const selected = useSelection((selection) => selection.parts);
  const [wanted, setWanted] = useState<string[]>([]);
  const [search, setSearch] = useState("");
  const there = new Set(set.rows.map(({ part, channel }) => `${part}/${channel}`));
  const options = order.flatMap((id) =>
    channelsOf(parts[id]?.channels ?? [], id, "all")
      .map(([part, channel]) => `${part}/${channel}`)
      .filter((value) => !there.has(value))
      .map((value) => ({ value, label: `${parts[id]?.name ?? ""}.${nameOf(parts[id]?.channels, value)}` })),
  );
  const found = options.filter(({ label }) => fits(label, search)).map(({ value }) => value);
  const add = () => {
    const channels = wanted.map((one): [string, string] => [one.slice(0, one.indexOf("/")), one.slice(one.indexOf("/") + 1)]);
    void edit({ do: "add rows", driven: set.id, channels }).then((stored) => { if (stored) setWanted([]); });
  };
  const fill = (group: (typeof groups)[number]) => {
    const found = selected.flatMap((id) => channelsOf(parts[id]?.channels ?? [], id, group)).map(([part, channel]) => `${part}/${channel}`);
    setWanted([...new Set([...wanted, ...found.filter((one) => !there.has(one))])]);
  };
  return (
    <Space wrap size={6}>
      <Select
        mode="multiple"
        size="small"
        aria-label="Channels for new rows"
        placeholder="part.channel to drive…"
        showSearch={{ ...byName, autoClearSearchValue: false, searchValue: search, onSearch: setSearch }}
        maxTagCount={4}
        style={{ minWidth: 260, maxWidth: 560 }}
        value={wanted}
        options={options}
        onChange={setWanted}
      />
      {search.trim() && <Button size="small" disabled={!found.length} title={found.length ? "Everything that the search finds" : "The search finds no channel that has no row yet"} onClick={() => { setWanted([...new Set([...wanted, ...found])]); }}>+ {found.length} found</Button>}
      <Button size="small" type="primary" disabled={!wanted.length} onClick={add}>{wanted.length === 1 ? "Add 1 row" : `Add ${wanted.length ? `${String(wanted.length)} ` : ""}rows`}</Button>
      {selected.length > 0 && <span style={{ color: ink.quiet }}>of the selection:</span>}
      {selected.length > 0 && groups.map((group) => (
        <Button key={group} size="small" type="text" title={`The ${group} of the ${String(selected.length)} chosen parts`} onClick={() => { fill(group); }}>+ {group}</Button>
      ))}
    </Space>
  );
});

function nameOf(channels: { id: string; name: string }[] | undefined, value: string): string {
  const id = value.slice(value.indexOf("/") + 1);
  return channels?.find((one) => one.id === id)?.name ?? id;
}
