import type { InputRef } from "antd";
import { Input } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";

import type { PartView } from "../api/client";
import { counted } from "../shared/format";
import { useCounts } from "../state/checks";
import { useEdit } from "../state/useEdit";
import { useOpenScene, usePart } from "../state/openScene";
import { usePlayer } from "../state/player";
import { useShowing } from "../state/showing";
import { NearKeys } from "../shared/NearKeys";
import { nearKeys } from "../shared/near";
import { tapInk } from "../shared/tapColours";
import { ink } from "../shared/theme";
import { endRename, useRenaming } from "./renaming";

const roleMark: Record<string, string> = { control: "◎", joint: "▷", helper: "✛", prop: "◇" };

/** A part in the tree: role, name, what writes it, keys on this frame. */
export function PartRow({ id }: { id: string }) {
  const part = usePart(id);
  const renaming = useRenaming(({ part: one }) => one === id);
  const drawn = useShowing(({ hidden, isolated }) => !hidden.includes(id) && (!isolated || isolated.includes(id)));
  const colour = useOpenScene(({ header }) => header.sets.find((set) => set.parts?.includes(id)));
  const looped = useOpenScene(({ header }) => header.looped.includes(id));
  const found = useCounts((counts) => counts[id] ?? 0);
  if (!part) return null;
  return (
    <span data-part={id} style={{ display: "flex", alignItems: "center", gap: 6 }}>
      <span title={part.role} style={{ width: 14, textAlign: "center", color: ink.quiet }}>
        {roleMark[part.role]}
      </span>
      {renaming ? (
        <NameField part={part} />
      ) : (
        <span title={pathOf(id)} style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap", ...(drawn ? {} : { color: ink.quiet, fontStyle: "italic" }) }}>
          {part.name}
        </span>
      )}
      {colour && <span title={`in the set ${colour.name}`} style={{ width: 8, height: 8, borderRadius: 2, background: colour.colour ?? ink.line, border: `1px solid ${ink.line}` }} />}
      {!drawn && (
        <button
          type="button"
          title="Hidden in this view; click to show"
          aria-label={`Show ${part.name}`}
          onClick={(event) => {
            event.stopPropagation();
            useShowing.setState(({ hidden }) => ({ hidden: hidden.filter((one) => one !== id) }));
          }}
          style={{ all: "unset", cursor: "pointer", color: ink.quiet, fontSize: 11 }}
        >
          hidden
        </button>
      )}
      {looped && (
        <span role="img" aria-label={`${part.name} is in a loop`} title="It takes part in a loop; the Wiring view has remedies" style={{ color: ink.trouble, fontSize: 12, fontWeight: 700 }}>⟲</span>
      )}
      {found > 0 && <span role="img" aria-label={`${counted(found, "finding")} on ${part.name}`} title={`${counted(found, "finding")}: see Checks`} style={{ color: ink.trouble, fontSize: 11 }}>▲{found > 1 ? found : ""}</span>}
      {part.steps.length > 0 && (
        <span
          title={`written by ${part.steps.map((step) => step.name).join(", ")}`}
          style={{ color: tapInk.driven, fontStyle: "italic", fontSize: 12 }}
        >
          ƒ
        </span>
      )}
      <PartKeys part={part} />
    </span>
  );
}

/** A part with all that is above it. */
function pathOf(id: string): string {
  const { parts } = useOpenScene.getState();
  const names: string[] = [];
  for (let one = parts[id]; one; one = one.parent ? parts[one.parent] : undefined) names.unshift(one.name);
  return names.join(" / ");
}

function NameField({ part }: { part: PartView }) {
  const edit = useEdit();
  const [name, setName] = useState(part.name);
  const field = useRef<InputRef>(null);
  // Not autoFocus: the tree around it is not ready for focus while it is being mounted.
  useEffect(() => {
    field.current?.focus({ cursor: "all" });
  }, []);
  const typed = useRef(part.name);
  const sending = useRef(false);
  const left = useRef(false);
  // A refused name stays in the field, to be mended. Whoever leaves the field meanwhile sends it no second time;
  // what is typed on meanwhile is another name.
  const commit = async () => {
    if (sending.current) return;
    sending.current = true;
    const sent = typed.current;
    const taken = sent === part.name || (await edit({ do: "rename part", part: part.id, name: sent }));
    sending.current = false;
    if (typed.current !== sent) {
      if (left.current) void commit();
    } else if (taken || left.current) endRename();
    else field.current?.focus();
  };
  return (
    <Input
      size="small"
      ref={field}
      aria-label={`Name of ${part.name}`}
      value={name}
      style={{ flex: 1, height: 22 }}
      onChange={(event) => {
        typed.current = event.target.value;
        setName(event.target.value);
      }}
      onFocus={() => { left.current = false; }}
      onClick={(event) => {
        event.stopPropagation();
      }}
      onBlur={() => {
        left.current = true;
        void commit();
      }}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") void commit();
        if (event.key === "Escape") endRename();
      }}
    />
  );
}

/** The keys of all curves of a part near the playhead, those on layers too. */
function PartKeys({ part }: { part: PartView }) {
  const now = usePlayer((player) => player.frame);
  const curves = useMemo(
    () => part.channels.flatMap(({ curve, on_layers }) => [...(curve ? [curve] : []), ...Object.values(on_layers).filter((one) => one !== undefined)]),
    [part.channels],
  );
  return <NearKeys small label={part.name} near={nearKeys(curves, now)} now={now} curved={curves.length > 0} />;
}
