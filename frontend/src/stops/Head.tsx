import { DeleteOutlined } from "@ant-design/icons";
import { Button, Dropdown, Space } from "antd";
import { memo } from "react";

import type { DrivenView } from "../api/client";
import { useEdit } from "../state/useEdit";
import { useOpenScene } from "../state/openScene";
import { captureEdit, chosenDraft, setDraft, usePosing } from "../state/posing";
import { useSamples, valueAt } from "../state/samples";
import { usePlayer } from "../state/player";
import { useSelection } from "../state/selection";
import { Confirm } from "../shared/Confirm";
import { freeName } from "../shared/freeName";
import { NumberField } from "../shared/NumberField";
import { TextField } from "../shared/TextField";
import { ink } from "../shared/theme";
import { asMenu } from "../shared/menus";

/** Name, driver and range of a set, and what is done with the whole of it. */
export const Head = memo(function Head({ set }: { set: DrivenView }) {
  const edit = useEdit();
  const chosen = useSelection(({ parts }) => parts);
  const change = (what: { name?: string; driver?: string; low?: number; high?: number }) =>
    edit({ do: "change driven keys", driven: set.id, ...what });
  const mirror = () => void edit({ do: "mirror driven keys", driven: set.id, name: mirroredName(set.name) });
  const copy = () => void edit({ do: "copy rows", rows: set.rows.map(({ row }) => row), parts: chosen });
  return (
    <div style={{ display: "flex", alignItems: "center", gap: 8, flexWrap: "wrap" }}>
      <TextField label="Name of the set" value={set.name} width={136} strong onCommit={(name) => change({ name })} />
      <span style={{ color: ink.quiet }}>driver</span>
      <TextField label="Driver" value={set.driver} width={176} mono onCommit={(driver) => change({ driver })} />
      <span style={{ color: ink.quiet }}>range</span>
      <NumberField label="Lowest driver value" value={set.low} text={String(set.low)} step={0.1} width={50} onCommit={(low) => void change({ low })} />
      …
      <NumberField label="Highest driver value" value={set.high} text={String(set.high)} step={0.1} width={50} onCommit={(high) => void change({ high })} />
      <span style={{ flex: 1 }} />
      <Space size={6}>
        <Button title="A set for the other side: opposite parts, signs mirrored" onClick={mirror}>Mirror</Button>
        <Button title={chosen.length ? `Copy the rows to the chosen parts` : "Choose the parts first, in the view or on the Bench"} disabled={!chosen.length || !set.rows.length} onClick={copy}>Copy rows</Button>
        <Confirm title={`Delete “${set.name}” and its rows?`} text="Undo brings it back." yes="Delete" onYes={() => edit({ do: "remove driven keys", driven: set.id })}>
          <Button aria-label="Delete the set" title="Delete the set with its rows" icon={<DeleteOutlined />} />
        </Confirm>
        <Capture set={set} />
      </Space>
    </div>
  );
});

function Capture({ set }: { set: DrivenView }) {
  const edit = useEdit();
  const { stop } = usePosing();
  const draft = usePosing(chosenDraft);
  const changed = Object.keys(draft).length;
  if (stop === null) return <Button type="primary" disabled title="Pick a stop first: click its column">Capture pose</Button>;
  const capture = (pose: Record<string, number>) => {
    void edit(captureEdit(set.id, stop, pose)).then((stored) => {
      if (stored) setDraft(set.id, stop, {});
    });
  };
  const all = () => ({ ...seenNow(set), ...draft });
  return (
    <Dropdown.Button
      type="primary"
      trigger={["click"]}
      {...asMenu("Capture")}
      onClick={() => { capture(changed ? draft : all()); }}
      menu={{
        items: [
          { key: "changed", label: `only what I changed (${String(changed)})`, disabled: !changed },
          { key: "all", label: "all rows, as they are seen now" },
          { key: "discard", label: "discard the pose", disabled: !changed },
        ],
        onClick: ({ key }) => {
          if (key === "discard") setDraft(set.id, stop, {});
          else capture(key === "all" ? all() : draft);
        },
      }}
    >
      Capture pose at {stop}
    </Dropdown.Button>
  );
}

/** The values of all rows' channels right after Driven at the playhead, try-outs included. */
function seenNow(set: DrivenView): Record<string, number> {
  const { blocks, first } = useSamples.getState();
  const { frame } = usePlayer.getState();
  const found: Record<string, number> = {};
  for (const { part, channel } of set.rows) {
    const value = valueAt(blocks[`${part}/${channel}/driven`], frame, first);
    if (value !== undefined) found[`${part}/${channel}`] = value;
  }
  return found;
}

function mirroredName(name: string): string {
  const swapped = name.replace(/\b(left|right)\b/, (side) => (side === "left" ? "right" : "left"));
  const taken = useOpenScene.getState().header.driven.map((one) => one.name);
  return freeName(swapped === name ? `${name} other side` : swapped, taken);
}
