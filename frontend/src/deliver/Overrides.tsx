import { Select } from "antd";

import type { Override } from "../api/client";
import { useChosenPart } from "../state/openScene";
import { freeName } from "../shared/freeName";
import { moved } from "../shared/moved";
import { OverrideRow, titles } from "./OverrideRow";
import { useReceiver } from "./receiver";
import { useChangeSetup } from "./useSetup";
import { Chapter } from "../shared/Chapter";

const kinds = Object.keys(titles) as Override["kind"][];

/** What comes after the clips, in its order: the last one has the last word. */
export function Overrides() {
  const setup = useReceiver((state) => state.setup);
  const names = useReceiver((state) => state.played?.names) ?? [];
  const clips = useReceiver((state) => state.played?.clips) ?? [];
  const chosen = useChosenPart()?.name;
  const changeSetup = useChangeSetup();
  const overrides = setup.overrides ?? [];
  const put = (next: Override[]) => changeSetup({ overrides: next });
  const add = (kind: Override["kind"]) => {
    const part = chosen !== undefined && names.includes(chosen) ? chosen : names.at(-1);
    const parts = part === undefined ? [] : [part];
    const own: Record<Override["kind"], Partial<Override>> = {
      "look at": { place: "look" },
      hold: {},
      "by input": { input: "speed", factor: 90 },
      "add clip": { clip: clips[0]?.name ?? null, parts: [] },
      author: { turn: [0, 30, 0] },
    };
    void put([...overrides, { name: freeName(kind, overrides.map(({ name }) => name)), kind, parts, ...own[kind] }]);
  };
  return (
    <section aria-label="Overrides" style={{ gridColumn: "1 / -1", display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 4 }}>
      <div style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <span style={{ flex: 1 }}><Chapter name="overrides" of="Handing over" /></span>
        <Select size="small" aria-label="Add an override" placeholder="+ override" style={{ width: 120 }} value={null} disabled={!names.length} options={kinds.map((value) => ({ value, label: value, title: titles[value] }))} onChange={(kind: Override["kind"] | null) => { if (kind) add(kind); }} />
      </div>
      {overrides.map((one, n) => (
        <OverrideRow
          key={n}
          one={one}
          onChange={(what) => put(overrides.map((other, m) => (m === n ? { ...one, ...what } : other)))}
          {...(n > 0 ? { onEarlier: () => { void put(moved(overrides, n, n - 1)); } } : {})}
          onDelete={() => { void put(overrides.filter((_, m) => m !== n)); }}
        />
      ))}
    </section>
  );
}
