import { AimOutlined, DeleteOutlined, DownOutlined, PlusOutlined, RightOutlined } from "@ant-design/icons";
import { Input } from "antd";
import type { KeyboardEvent } from "react";
import { useEffect, useRef, useState } from "react";

import type { KitName } from "../state/kit";
import { closeForm, foldKind, openForm, useKit } from "../state/kit";
import { chooseParts, useSelection } from "../state/selection";
import { useEdit } from "../state/useEdit";
import { Chapter } from "../shared/Chapter";
import { TextField } from "../shared/TextField";
import { ink } from "../shared/theme";
import { kinds } from "./kinds";
import type { KitItem, KitKind } from "./kind";

/** All things of the rig that are no parts, by kind. The form of the chosen one stands beside. */
export function Kit() {
  const find = useKit((kit) => kit.find);
  return (
    <>
      <div style={{ padding: "6px 10px 4px" }} onKeyDown={(event) => { event.stopPropagation(); }}>
        <Input size="small" allowClear aria-label="Find in the kit" placeholder="find in the kit" value={find} onChange={(event) => { useKit.setState({ find: event.target.value }); }} />
      </div>
      <div className="scroll" role="group" aria-label="Kit" style={{ flex: 1, padding: "0 4px 8px 10px" }} onKeyDown={walk}>
        {kinds.map((kind) => <Kind key={kind.name} kind={kind} find={find.trim().toLowerCase()} />)}
      </div>
    </>
  );
}

/** The arrows go from name to name. */
function walk(event: KeyboardEvent<HTMLElement>) {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (step === undefined || !(event.target instanceof HTMLButtonElement)) return;
  const stops = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-stop]")];
  const row = event.target.closest("li, header");
  const at = stops.findIndex((one) => row?.contains(one));
  const next = stops[at + step];
  if (!next) return;
  event.preventDefault();
  event.stopPropagation();
  next.focus();
}

function Kind({ kind, find }: { kind: KitKind; find: string }) {
  const items = kind.useItems();
  const folded = useKit((kit) => kit.folded.includes(kind.name)) && !find;
  const making = useKit((kit) => kit.open?.kind === kind.name && kit.open.id === null);
  const shown = find ? items.filter(({ name, note }) => `${name} ${note}`.toLowerCase().includes(find)) : items;
  if (find && !shown.length) return null;
  return (
    <section aria-label={kind.name}>
      <header style={{ display: "flex", alignItems: "center", gap: 4, padding: "5px 0 1px" }}>
        <span style={{ width: 14 }}>
          {items.length > 0 && (
            <button type="button" className="bare" data-stop aria-expanded={!folded} aria-label={`${kind.name}, ${String(items.length)}`} title={folded ? "Unfold" : "Fold"} style={{ color: ink.quiet, fontSize: 9 }} onClick={() => { foldKind(kind.name); }}>
              {folded ? <RightOutlined /> : <DownOutlined />}
            </button>
          )}
        </span>
        <Chapter name={kind.name} of={kind.chapter} />
        <span className="mono" style={{ flex: 1, fontSize: 11, color: ink.quiet }}>{find ? `${String(shown.length)} of ${String(items.length)}` : items.length || ""}</span>
        <button type="button" className="bare" aria-label={`New ${kind.one}`} title={`New ${kind.one}. ${kind.why}`} aria-pressed={making} style={{ ...small, background: making ? ink.chosen : undefined }} onClick={() => { openForm(kind.name, null); }}><PlusOutlined /></button>
      </header>
      {!folded && shown.length > 0 && (
        <ul style={{ listStyle: "none", margin: 0, padding: 0 }}>
          {shown.map((item) => <Row key={item.id} kind={kind} item={item} />)}
        </ul>
      )}
    </section>
  );
}

function Row({ kind, item }: { kind: KitKind; item: KitItem }) {
  const edit = useEdit();
  const open = useKit((kit) => kit.open?.kind === kind.name && kit.open.id === item.id);
  const near = useSelection(({ parts }) => parts.some((part) => item.parts.includes(part)));
  const [renaming, setRenaming] = useState(false);
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => { if (open) row.current?.scrollIntoView({ block: "nearest" }); }, [open]);
  const called = `${kind.one} ${item.name}`;
  const remove = () => {
    if (open) closeForm();
    void kind.remove(item, edit);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "F2") setRenaming(true);
    else if (event.key === "Delete" || event.key === "Backspace") remove();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <li ref={row} style={{ display: "flex", alignItems: "center", gap: 4, minHeight: 23, paddingLeft: 12, marginLeft: 6, borderLeft: `2px solid ${near ? ink.ink : "transparent"}`, borderRadius: 3, background: open ? ink.chosen : undefined }} title={near ? "It has to do with what is chosen" : undefined}>
      {renaming ? (
        <Rename label={`New name of the ${called}`} value={item.name} onDone={() => { setRenaming(false); }} onCommit={(name) => kind.rename(item, name, edit)} />
      ) : (
        <button type="button" className="bare" data-stop data-own="remove" aria-pressed={open} aria-label={called} title={`${item.name}: open its form. F2 or a double click renames it`} style={{ flex: "0 1 auto", overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }} onClick={() => { openForm(kind.name, item.id); }} onDoubleClick={() => { setRenaming(true); }} onKeyDown={onKeyDown}>
          {item.name}
        </button>
      )}
      <span title={item.note} style={{ flex: "1 1 30px", minWidth: 30, color: ink.quiet, fontSize: 11, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{item.note}</span>
      {(item.parts.length > 0 || kind.show) && <button type="button" className="bare" aria-label={`Show the ${called}`} title="Show it: choose its parts" style={small} onClick={() => { showItem(kind, item); }}><AimOutlined /></button>}
      <button type="button" className="bare" aria-label={`Delete the ${called} in the list`} title={`Delete the ${kind.one}. ${kind.gone}`} style={small} onClick={remove}><DeleteOutlined /></button>
    </li>
  );
}

function showItem(kind: KitKind, item: KitItem) {
  if (kind.show) kind.show(item);
  else chooseParts(item.parts);
  openForm(kind.name, item.id);
}

/** A name that is typed in the list: Enter and leaving take it, Esc gives it up. */
function Rename({ label, value, onCommit, onDone }: { label: string; value: string; onCommit: (name: string) => Promise<boolean>; onDone: () => void }) {
  return (
    <span style={{ flex: "3 1 90px", minWidth: 0 }} ref={(box) => { box?.querySelector("input")?.select(); }} onBlur={onDone}>
      <TextField label={label} value={value} width="100%" onCommit={onCommit} />
    </span>
  );
}

const small = { display: "inline-flex", alignItems: "center", justifyContent: "center", width: 20, height: 20, borderRadius: 4, color: ink.quiet, fontSize: 11, flex: "none" } as const;

export function kindNamed(name: KitName): KitKind | undefined {
  return kinds.find((kind) => kind.name === name);
}
