import type { GetRef, TreeDataNode, TreeProps } from "antd";
import { Tree } from "antd";
import type { RefObject } from "react";
import { useEffect, useMemo, useRef } from "react";

import type { OneEdit } from "../api/client";
import { useOpenScene } from "../state/openScene";
import { useEdit } from "../state/useEdit";
import { choosePart, chooseParts, togglePart, useSelection } from "../state/selection";
import { PartRow } from "./PartRow";
import { useKeepPlace } from "./keepPlace";
import { topmost } from "./PartTools";
import { beginRename } from "./renaming";

type Drop = Parameters<NonNullable<TreeProps["onDrop"]>>[0];
type Click = Parameters<NonNullable<TreeProps["onSelect"]>>[1];

interface Props {
  /** What shows the rows, and how high it is. */
  within: RefObject<HTMLElement | null>;
  height: number;
  folded: string[];
  onFold: (folded: string[]) => void;
}

/** The rows of the tree of parts: chosen, folded, renamed and dragged here. */
export function TreeRows({ within, height, folded, onFold }: Props) {
  const order = useOpenScene((scene) => scene.order);
  // The shape of the tree as a text, so that other edits leave the tree as it is.
  const shape = useOpenScene(({ parts }) => order.map((id) => `${id} ${parts[id]?.parent ?? ""}`).join());
  const chosen = useSelection((selection) => selection.parts);
  const shownPart = useSelection((selection) => selection.part);
  const list = useRef<GetRef<typeof Tree>>(null);
  // Whatever is chosen elsewhere comes into sight here. What is in sight stays: the list draws all its rows several
  // times to find where to go.
  useEffect(() => {
    if (shownPart && !isInSight(within.current, shownPart)) list.current?.scrollTo({ key: shownPart });
  }, [within, shownPart, shape, height]);
  const edit = useEdit();
  const tree = useMemo(() => treeOf(shape), [shape]);
  const expanded = useMemo(() => order.filter((id) => !folded.includes(id)), [order, folded]);
  return (
    <Tree
      ref={list}
      blockNode
      className={depthOf(shape) > 5 ? "deep" : ""}
      expandedKeys={expanded}
      onExpand={(_, { node, expanded: opened }) => {
        const id = String(node.key);
        onFold(opened ? folded.filter((one) => one !== id) : [...folded, id]);
      }}
      virtual
      height={height}
      itemHeight={26}
      treeData={tree}
      multiple
      selectedKeys={chosen}
      style={{ background: "transparent" }}
      onSelect={(_, click) => { chooseClicked(click); }}
      activeKey={shownPart}
      onActiveChange={(key) => { if (key !== null) choosePart(String(key)); }}
      onDoubleClick={(_, node) => { beginRename(String(node.key)); }}
      draggable={{ icon: false }}
      onDrop={(drop) => void edit(...moveEdits(drop))}
    />
  );
}

/** A click chooses one part, with Ctrl one more or less, with Shift all up to it. */
function chooseClicked({ node, nativeEvent }: Click) {
  const id = String(node.key);
  if (nativeEvent.ctrlKey || nativeEvent.metaKey) togglePart(id);
  else if (nativeEvent.shiftKey) chooseParts(between(useOpenScene.getState().order, useSelection.getState().part, id), id);
  else choosePart(id);
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
