import type { InputRef, TreeDataNode } from "antd";
import { Input, Tree } from "antd";
import { useMemo, useRef, useState } from "react";

import type { PartView } from "../api/client";
import { useOpenScene, usePart } from "../state/openScene";
import { useShortcuts } from "../shell/shortcuts";
import { chooseChannel, choosePart, useSelection } from "../state/selection";
import { usePlayer } from "../state/player";
import { Dot } from "../shared/Dot";
import { useSize } from "../shared/useSize";
import { tapInk } from "../shared/taps";
import { ink } from "../theme";

const roleMark: Record<string, string> = { control: "◎", joint: "▷", helper: "✛", prop: "◇" };

/** The tree of parts, with search for parts and channels. */
export function PartsTree() {
  const order = useOpenScene((scene) => scene.order);
  // The shape of the tree as a text, so that other edits leave the tree as it is.
  const shape = useOpenScene(({ parts }) => order.map((id) => `${id} ${parts[id]?.parent ?? ""}`).join());
  const [search, setSearch] = useState("");
  const field = useRef<InputRef>(null);
  const chosen = useSelection((selection) => selection.part);
  const { ref, height } = useSize<HTMLDivElement>();
  useShortcuts({ find: () => field.current?.focus() });
  const tree = useMemo(() => treeOf(shape), [shape]);
  const found = search.trim() ? findings(search) : null;

  return (
    <>
      <div style={{ padding: "10px 12px 8px" }}>
        <div className="caps" style={{ marginBottom: 8 }}>Parts</div>
        <Input
          ref={field}
          allowClear
          placeholder="Find a part or channel  /"
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
        ) : order.length ? (
          <Tree
            blockNode
            defaultExpandAll
            virtual
            height={height}
            treeData={tree}
            selectedKeys={chosen ? [chosen] : []}
            style={{ background: "transparent" }}
            onSelect={(_, { node }) => {
              choosePart(String(node.key));
            }}
          />
        ) : (
          <p style={{ padding: 12, color: ink.quiet }}>
            This scene has no parts yet. Import a scene file on the home page to begin.
          </p>
        )}
      </div>
    </>
  );
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

function PartRow({ id }: { id: string }) {
  const part = usePart(id);
  if (!part) return null;
  const wired = part.steps.length > 0;
  return (
    <span style={{ display: "flex", alignItems: "center", gap: 6 }}>
      <span title={part.role} style={{ width: 14, textAlign: "center", color: ink.quiet }}>
        {roleMark[part.role]}
      </span>
      <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
        {part.name}
      </span>
      {wired && (
        <span
          title={`written by ${part.steps.map((step) => step.name).join(", ")}`}
          style={{ color: tapInk.driven, fontStyle: "italic", fontSize: 12 }}
        >
          ƒ
        </span>
      )}
      <PartDot part={part} />
    </span>
  );
}

function PartDot({ part }: { part: PartView }) {
  const curves = part.channels.flatMap((channel) => channel.curve ?? []);
  const here = usePlayer(({ frame }) =>
    curves.some((curve) => curve.keys.some((key) => key.frame === frame)),
  );
  if (!curves.length) return <span style={{ width: 14 }} />;
  return <Dot state={here ? "key" : "curve"} label={part.name} />;
}

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
    if (found.length > 200) break;
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
    </ul>
  );
}
