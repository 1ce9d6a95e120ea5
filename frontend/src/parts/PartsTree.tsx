import { Button, Input } from "antd";
import { useState } from "react";

import { useOpenScene } from "../state/openScene";
import { useShortcuts } from "../commands/shortcuts";
import { useSelection } from "../state/selection";
import { useSize } from "../shared/useSize";
import { Chapter } from "../shared/Chapter";
import { ink } from "../shared/theme";
import type { Found } from "./FoundList";
import { findings, FoundList } from "./FoundList";
import { PartTools, useAddPart } from "./PartTools";
import { beginRename } from "./renaming";
import { TreeRows } from "./TreeRows";

/** The tree of parts, with search for parts and channels. */
export function PartsTree() {
  const order = useOpenScene((scene) => scene.order);
  const [search, setSearch] = useState("");
  const [folded, setFolded] = useState<string[]>([]);
  const { ref, height } = useSize<HTMLDivElement>();
  useShortcuts({
    rename: () => {
      const { part } = useSelection.getState();
      if (part) beginRename(part);
    },
  });
  const found = search.trim() ? findings(search) : null;
  return (
    <>
      <div style={{ padding: "10px 12px 8px" }}>
        <div style={{ display: "flex", alignItems: "center", margin: "-3px -6px 5px 0" }}>
          <span style={{ flex: 1 }}><Chapter name="Parts" of="Parts" /></span>
          <PartTools onRename={beginRename} />
        </div>
        <SearchField search={search} onSearch={setSearch} first={found?.[0]} />
      </div>
      <div ref={ref} className="scroll" style={{ flex: 1, padding: "0 4px" }}>
        {found ? <FoundList found={found} /> : !order.length ? <NoParts /> : height > 0 && (
          <TreeRows within={ref} height={height} folded={folded} onFold={setFolded} />
        )}
      </div>
    </>
  );
}

/** Enter chooses the first that was found. */
function SearchField({ search, onSearch, first }: { search: string; onSearch: (search: string) => void; first: Found | undefined }) {
  return (
    <Input
      allowClear
      placeholder="Find a part or channel"
      aria-label="Find a part or channel"
      value={search}
      onChange={(event) => { onSearch(event.target.value); }}
      onKeyDown={(event) => {
        if (event.key === "Escape") event.currentTarget.blur();
        if (event.key === "Enter") first?.choose();
      }}
    />
  );
}

function NoParts() {
  const add = useAddPart(beginRename);
  return (
    <p style={{ padding: 12, color: ink.quiet }}>
      This scene has no parts yet.{" "}
      <Button size="small" onClick={() => void add(null)}>Add a part</Button>
    </p>
  );
}
