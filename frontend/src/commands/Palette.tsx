import { Button, Input } from "antd";
import { SearchOutlined } from "@ant-design/icons";
import { useEffect, useRef, useState } from "react";

import { useOpenScene } from "../state/openScene";
import { chooseChannel, choosePart } from "../state/selection";
import { Hint } from "../shared/Hint";
import { ink } from "../shared/theme";
import type { Command } from "./commandList";
import { allCommands } from "./commandList";
import { useKeys, useShortcuts } from "./shortcuts";

interface Found extends Command {
  kind: "command" | "part" | "channel";
}

/** Finds parts, channels and commands by name, behind `/`. It hangs from the top bar and leaves
 * the views in sight. */
export function Palette() {
  const [open, setOpen] = useState(false);
  const keys = useKeys((all) => all.find);
  useShortcuts({ find: () => { setOpen(true); } });
  return (
    <span style={{ position: "relative" }}>
      <Hint title={`Find a part, channel or command (${keys})`}>
        <Button aria-label="Find a part, channel or command" icon={<SearchOutlined />} onClick={() => { setOpen(!open); }} />
      </Hint>
      {open && <Panel onClose={() => { setOpen(false); }} />}
    </span>
  );
}

function Panel({ onClose }: { onClose: () => void }) {
  const [search, setSearch] = useState("");
  const [at, setAt] = useState(0);
  const { found, more } = findings(search);
  const choose = (one: Found | undefined) => {
    onClose();
    one?.run();
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    event.stopPropagation();
    if (event.key === "Escape") onClose();
    if (event.key === "Enter") choose(found[at]);
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      const way = event.key === "ArrowDown" ? 1 : -1;
      setAt((now) => Math.max(Math.min(now + way, found.length - 1), 0));
    }
  };
  return (
    <div
      role="search"
      aria-label="Palette"
      style={{ position: "absolute", right: 0, top: 36, width: 360, zIndex: 20, background: ink.field, border: `1px solid ${ink.line}`, borderRadius: 6, padding: 8, boxShadow: "0 6px 18px rgb(30 43 51 / 14%)" }}
    >
      <Input
        autoFocus
        role="combobox"
        aria-expanded
        aria-controls="palette-found"
        aria-activedescendant={found.length ? `palette-${String(at)}` : undefined}
        aria-label="Name of a part, channel or command"
        placeholder="part, part.channel or command"
        value={search}
        onChange={(event) => {
          setSearch(event.target.value);
          setAt(0);
        }}
        onKeyDown={onKeyDown}
        onBlur={() => { window.setTimeout(onClose, 150); }}
      />
      <PaletteList found={found} at={at} onMark={setAt} onChoose={choose} />
      <div role="status" style={{ color: ink.quiet, padding: "0 6px" }}>
        {found.length ? more > 0 && `and ${String(more)} more: type on` : "Nothing has that name."}
      </div>
    </div>
  );
}

interface ListProps {
  found: Found[];
  /** Which one Enter would choose; it is kept in sight. */
  at: number;
  onMark: (at: number) => void;
  onChoose: (one: Found) => void;
}

function PaletteList({ found, at, onMark, onChoose }: ListProps) {
  const keys = useKeys();
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    list.current?.children[at]?.scrollIntoView({ block: "nearest" });
  }, [at]);
  return (
    <ul ref={list} id="palette-found" role="listbox" aria-label="Found" className="scroll" style={{ listStyle: "none", margin: "6px 0 0", padding: 0, maxHeight: 320 }}>
      {found.map((one, n) => (
        <li
          key={`${one.kind} ${one.name}`}
          id={`palette-${String(n)}`}
          role="option"
          aria-selected={n === at}
          onMouseDown={(event) => { event.preventDefault(); }}
          onClick={() => { onChoose(one); }}
          onMouseEnter={() => { onMark(n); }}
          style={{ display: "flex", gap: 8, padding: "4px 6px", borderRadius: 4, cursor: "pointer", background: n === at ? ink.chosen : undefined }}
        >
          <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{one.name}</span>
          <span style={{ color: ink.quiet, fontSize: 12 }}>{one.shortcut ? keys[one.shortcut] : one.kind}</span>
        </li>
      ))}
    </ul>
  );
}

/** So many parts, commands and channels are listed at most, each: many of one leave room for the others. */
const most = 40;

/** Whatever holds all the typed words, the shortest names first; parts, then commands, then
 * channels. And how many more do. */
function findings(search: string): { found: Found[]; more: number } {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (name: string) => words.every((word) => name.toLowerCase().includes(word));
  const { order, parts } = useOpenScene.getState();
  const fitting = (all: Found[]) => {
    const found = all.filter(({ name }) => fits(name));
    return words.length ? found.sort((a, b) => a.name.length - b.name.length) : found;
  };
  const ofParts = order.map((id): Found => ({ kind: "part", name: parts[id]?.name ?? "", run: () => { choosePart(id); } }));
  const ofCommands = allCommands().map((command): Found => ({ kind: "command", ...command }));
  const ofChannels = (words.length ? order : []).flatMap((id) =>
    (parts[id]?.channels ?? []).map((channel): Found => ({
      kind: "channel",
      name: `${parts[id]?.name ?? ""}.${channel.name}`,
      run: () => { chooseChannel(id, channel.id); },
    })),
  );
  const kinds = [ofParts, ofCommands, ofChannels].map(fitting);
  const found = kinds.flatMap((kind) => kind.slice(0, most));
  return { found, more: kinds.flat().length - found.length };
}
