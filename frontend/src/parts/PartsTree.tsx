import type { GetRef, InputRef, TreeDataNode, TreeProps } from "antd";
import { Button, Input, Tree } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";

import type { OneEdit } from "../api/client";
import { useOpenScene } from "../state/openScene";
import { useShortcuts } from "../commands/shortcuts";
import { useEdit } from "../state/useEdit";
import { chooseChannel, choosePart, chooseParts, togglePart, useSelection } from "../state/selection";
import { useSize } from "../shared/useSize";
import { Chapter } from "../shared/Chapter";
import { ink } from "../shared/theme";
import { PartRow } from "./PartRow";
import { useKeepPlace } from "./keepPlace";
import { PartTools, topmost, useAddPart } from "./PartTools";
import { beginRename } from "./renaming";

type Drop = Parameters<NonNullable<TreeProps["onDrop"]>>[0];

/** The tree of parts, with search for parts and channels. */
export function PartsTree() {
  const order = useOpenScene((scene) => scene.order);
  // The shape of the tree as a text, so that other edits leave the tree as it is.
  const shape = useOpenScene(({ parts }) => order.map((id) => `${id} ${parts[id]?.parent ?? ""}`).join());
  const [search, setSearch] = useState("");
  const [folded, setFolded] = useState<string[]>([]);
  const field = useRef<InputRef>(null);
  const chosen = useSelection((selection) => selection.parts);
  const shownPart = useSelection((selection) => selection.part);
  const list = useRef<GetRef<typeof Tree>>(null);
  const { ref, height } = useSize<HTMLDivElement>();
  // Whatever is chosen elsewhere comes into sight here. What is in sight stays: the list draws all its rows several
  // times to find where to go.
  useEffect(() => {
    if (shownPart && height && !isInSight(ref.current, shownPart)) list.current?.scrollTo({ key: shownPart });
  }, [ref, shownPart, shape, height]);
  const edit = useEdit();
  const add = useAddPart(beginRename);
  useShortcuts({
    rename: () => {
      const { part } = useSelection.getState();
      if (part) beginRename(part);
    },
  });
  const tree = useMemo(() => treeOf(shape), [shape]);
  const expanded = useMemo(() => order.filter((id) => !folded.includes(id)), [order, folded]);
  const found = search.trim() ? findings(search) : null;

  return (
    <>
      <div style={{ padding: "10px 12px 8px" }}>
        <div style={{ display: "flex", alignItems: "center", margin: "-3px -6px 5px 0" }}>
          <span style={{ flex: 1 }}><Chapter name="Parts" of="Parts" /></span>
          <PartTools onRename={beginRename} />
        </div>
        <Input
          ref={field}
          allowClear
          placeholder="Find a part or channel"
          aria-label="Find a part or channel"
          value={search}
          onChange={(event) => {
            setSearch(event.target.value);
          }}
          onKeyDown={(event) => {
            if (event.key === "Escape") event.currentTarget.blur();
            const first = found?.[0];
            if (event.key === "Enter" && first) first.choose();
          }}
        />
      </div>
      <div ref={ref} className="scroll" style={{ flex: 1, padding: "0 4px" }}>
        {found ? (
          <FoundList found={found} />
        ) : !order.length ? (
          <p style={{ padding: 12, color: ink.quiet }}>
            This scene has no parts yet.{" "}
            <Button size="small" onClick={() => void add(null)}>Add a part</Button>
          </p>
        ) : height > 0 && (
          <Tree
            ref={list}
            blockNode
            className={depthOf(shape) > 5 ? "deep" : ""}
            expandedKeys={expanded}
            onExpand={(_, { node, expanded: opened }) => {
              const id = String(node.key);
              setFolded(opened ? folded.filter((one) => one !== id) : [...folded, id]);
            }}
            virtual
            height={height}
            itemHeight={26}
            treeData={tree}
            multiple
            selectedKeys={chosen}
            style={{ background: "transparent" }}
            onSelect={(_, { node, nativeEvent }) => {
              const id = String(node.key);
              if (nativeEvent.ctrlKey || nativeEvent.metaKey) togglePart(id);
              else if (nativeEvent.shiftKey) chooseParts(between(order, useSelection.getState().part, id), id);
              else choosePart(id);
            }}
            activeKey={shownPart}
            onActiveChange={(key) => { if (key !== null) choosePart(String(key)); }}
            onDoubleClick={(_, node) => {
              beginRename(String(node.key));
            }}
            draggable={{ icon: false }}
            onDrop={(drop) => {
              void edit(...moveEdits(drop));
            }}
          />
        )}
      </div>
    </>
  );
}

/** Whether the row of a part is whole within what shows the tree. */
function isInSight(shown: HTMLElement | null, part: string): boolean {
  const row = shown?.querySelector(`[data-part="${CSS.escape(part)}"]`)?.getBoundingClientRect();
  const whole = shown?.getBoundingClientRect();
  return Boolean(row && whole && row.top >= whole.top && row.bottom <= whole.bottom);
}

/** The parts from one to another in the order of the tree. */
function between(order: string[], from: string | null, to: string): string[] {
  const [a, b] = [order.indexOf(from ?? to), order.indexOf(to)];
  return order.slice(Math.min(a, b), Math.max(a, b) + 1);
}

/** How many levels the tree has. */
function depthOf(shape: string): number {
  const depths = new Map<string, number>();
  for (const row of shape ? shape.split(",") : []) {
    const [id = "", parent = ""] = row.split(" ");
    depths.set(id, (depths.get(parent) ?? 0) + 1);
  }
  return Math.max(0, ...depths.values());
}

function treeOf(shape: string): TreeDataNode[] {
  const nodes = new Map<string, TreeDataNode & { children: TreeDataNode[] }>();
  const roots: TreeDataNode[] = [];
  for (const row of shape ? shape.split(",") : []) {
    const [id = "", parent = ""] = row.split(" ");
    const node = { key: id, title: <PartRow id={id} />, children: [] };
    nodes.set(id, node);
    (nodes.get(parent)?.children ?? roots).push(node);
  }
  return roots;
}

/** Dropped on a part: below it; between two parts: beside them, in that order. All chosen parts
 * go along with the one that is dragged. */
function moveEdits({ dragNode, node, dropToGap, dropPosition }: Drop): OneEdit[] {
  const { parts, order } = useOpenScene.getState();
  const { keepPlace: keep_place } = useKeepPlace.getState();
  const chosen = useSelection.getState().parts;
  const dragged = String(dragNode.key);
  const moved = chosen.includes(dragged) ? topmost(order.filter((id) => chosen.includes(id))) : [dragged];
  const target = String(node.key);
  if (!dropToGap) return moved.map((part) => ({ do: "move part", part, parent: target, keep_place }));
  const parent = parts[target]?.parent ?? null;
  const siblings = order.filter((id) => (parts[id]?.parent ?? null) === parent && !moved.includes(id));
  const above = dropPosition < Number(node.pos.split("-").at(-1));
  const before = siblings[siblings.indexOf(target) + (above ? 0 : 1)] ?? null;
  return moved.map((part) => ({ do: "move part", part, parent, before, keep_place }));
}

/** How many of what was found are listed. */
const most = 200;

interface Found {
  text: string;
  choose: () => void;
}

function findings(search: string): Found[] {
  const scene = useOpenScene.getState();
  const words = search.toLowerCase().trim();
  const found: Found[] = [];
  for (const id of scene.order) {
    const part = scene.parts[id];
    if (!part) continue;
    if (part.name.toLowerCase().includes(words)) {
      found.push({ text: part.name, choose: () => { choosePart(id); } });
    }
    for (const channel of part.channels) {
      const text = `${part.name}.${channel.name}`;
      const wanted = words.includes(".") ? text : channel.name;
      if (wanted.toLowerCase().includes(words)) {
        found.push({ text, choose: () => { chooseChannel(id, channel.id); } });
      }
    }
    if (found.length >= most) break;
  }
  return found;
}

function FoundList({ found }: { found: Found[] }) {
  if (!found.length) return <p style={{ padding: 12, color: ink.quiet }}>Nothing has that name.</p>;
  return (
    <ul style={{ listStyle: "none", margin: 0, padding: "0 8px" }} aria-label="Found">
      {found.map(({ text, choose }) => (
        <li key={text}>
          <button
            type="button"
            onClick={choose}
            style={{ all: "unset", cursor: "pointer", display: "block", padding: "4px 6px" }}
          >
            {text}
          </button>
        </li>
      ))}
      {found.length >= most && <li style={{ padding: "4px 6px", color: ink.quiet }}>There may be more: type on.</li>}
    </ul>
  );
}
