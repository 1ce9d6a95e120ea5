import { useQuery } from "@tanstack/react-query";
import { App, Button, Input, Select, Space } from "antd";
import { useState } from "react";

import { post, reason } from "../../api/client";
import type { components } from "../../api/schema";
import { remembered } from "../../state/remembered";
import { useEdit } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";

type Rule = components["schemas"]["NameRule"];
type View = components["schemas"]["RulesView"];

const store = "bindu.rules";
const example: Rule = { name: "fan", pattern: "* feather [1-6]", channel: "rotation.y", formula: "{body.spread} * <2> * 8", mode: "add" };

/** Wiring by name: rules, what they would wire, and doing it. */
export function Rules() {
  const edit = useEdit();
  const { message } = App.useApp();
  const [rules, setRules] = useState<Rule[]>(keptRules);
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const { data, error } = useQuery({
    queryKey: ["rules", sceneId, revision, rules],
    queryFn: () => post<View>(`/api/scenes/${String(sceneId)}/rules`, { rules }),
    enabled: rules.length > 0,
    gcTime: 0,
  });
  const keep = (next: Rule[]) => {
    setRules(next);
    localStorage.setItem(store, JSON.stringify(next));
  };
  const change = (n: number, what: Partial<Rule>) => { keep(rules.map((rule, m) => (m === n ? { ...rule, ...what } : rule))); };
  const apply = async () => {
    const before = useOpenScene.getState().header;
    if (!(await edit({ do: "apply rules", rules }))) return;
    const after = useOpenScene.getState().header;
    void message.info(after.revision === before.revision ? "All of it is wired already; nothing changed." : (after.undo ?? ""), 4);
  };
  return (
    <div className="scroll" style={{ flex: 1, padding: "8px 10px" }} onKeyDown={(event) => { event.stopPropagation(); }}>
      {rules.map((rule, n) => (
        <section key={n} aria-label={`Rule ${rule.name}`} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: 6, marginBottom: 6, display: "grid", gap: 4 }}>
          <div style={{ display: "flex", gap: 4 }}>
            <Input size="small" aria-label="Name of the rule" value={rule.name} style={{ flex: 1, fontWeight: 600 }} onChange={(event) => { change(n, { name: event.target.value }); }} />
            <Button type="text" size="small" aria-label={`Delete the rule ${rule.name}`} title="Delete the rule" onClick={() => { keep(rules.filter((_, m) => m !== n)); }}>×</Button>
          </div>
          <Input size="small" aria-label="Pattern" className="mono" title="* any letters, ? one, [1-6] a number, [left,right] one of these words" value={rule.pattern} onChange={(event) => { change(n, { pattern: event.target.value }); }} />
          <Space.Compact>
            <Input size="small" aria-label="Channel of the rule" className="mono" value={rule.channel} onChange={(event) => { change(n, { channel: event.target.value }); }} />
            <Select size="small" aria-label="How the rule writes" style={{ width: 76 }} value={rule.mode ?? "add"} options={["add", "set", "scale"].map((value) => ({ value, label: value }))} onChange={(mode: "add" | "set" | "scale") => { change(n, { mode }); }} />
          </Space.Compact>
          <Input size="small" aria-label="Formula of the rule" className="mono" title="<1> is what the first wildcard stands for, <2> the second, <0> the whole name" value={rule.formula} onChange={(event) => { change(n, { formula: event.target.value }); }} />
        </section>
      ))}
      <Space size={4} wrap>
        <Button size="small" onClick={() => { keep([...rules, { ...example, name: `rule ${String(rules.length + 1)}` }]); }}>+ rule</Button>
        <Popup placement="right" title="Names that a receiving program moves" content={(close) => <NameList onAdd={(rule) => { keep([...rules, rule]); close(); }} />}>
          <Button size="small" title="A rule for a list of named parts">list…</Button>
        </Popup>
        <Button size="small" type="primary" disabled={!data?.matches.length} onClick={() => void apply()}>Wire {data?.matches.length ?? 0}</Button>
        <Button size="small" disabled={!rules.length} title="Save the rules as a JSON file" onClick={() => { download(rules); }}>Save</Button>
        <Button size="small" title="Load rules from a JSON file" onClick={() => { upload(keep); }}>Load</Button>
      </Space>
      {!rules.length && <p style={{ color: ink.quiet }}>No rules yet. A rule gives every part whose name fits a formula; run it again after renaming.</p>}
      <Missing rules={rules} />
      {error && <p role="alert" style={{ color: ink.trouble }}>{reason(error)}</p>}
      {data && <Matches view={data} />}
    </div>
  );
}

/** Names, a line each, as one rule: each named part is driven by the input of its name. */
function NameList({ onAdd }: { onAdd: (rule: Rule) => void }) {
  const [text, setText] = useState("");
  const names = text.split(/[\n,;\t]/).map((name) => name.trim()).filter(Boolean);
  const rule = { name: "input", pattern: `[${names.join(",")}]`, channel: "rotation.x", formula: "{inputs.<1>}", mode: "add" as const };
  return (
    <div style={{ display: "grid", gap: 6, width: 260 }} onKeyDown={(event) => { event.stopPropagation(); }}>
      <Input.TextArea aria-label="Names, a line each" rows={6} className="mono" value={text} onChange={(event) => { setText(event.target.value); }} />
      <span style={{ color: ink.quiet, fontSize: 12 }}>The rule reads the channel of that name from a part called inputs; change that as you like.</span>
      <Button size="small" type="primary" disabled={!names.length} onClick={() => { onAdd(rule); }}>Add a rule for {names.length}</Button>
    </div>
  );
}

/** The names in rules made of a list for which there is no part. */
function Missing({ rules }: { rules: Rule[] }) {
  const parts = useOpenScene((scene) => scene.parts);
  const known = new Set(Object.values(parts).map(({ name }) => name));
  const listed = rules.flatMap(({ pattern }) => (/^\[[^\]-]*\]$/.test(pattern) ? pattern.slice(1, -1).split(",") : []));
  const missing = listed.map((name) => name.trim()).filter((name) => name && !known.has(name));
  if (!missing.length) return null;
  return <p role="alert" style={{ color: ink.doubtful, fontSize: 12 }}>▲ No part is called {missing.join(", ")}.</p>;
}

/** Which parts are fitted by which rule, by none, and by several. */
function Matches({ view }: { view: View }) {
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const counts = new Map<string, number>();
  for (const { part } of view.matches) counts.set(part, (counts.get(part) ?? 0) + 1);
  const missed = order.filter((id) => !counts.has(id));
  const twice = [...counts.values()].filter((count) => count > 1).length;
  return (
    <>
      <p role="status" style={{ color: ink.quiet, fontSize: 12, margin: "8px 0 2px" }}>
        {counts.size} parts fit, {missed.length} fit no rule{twice ? `, ${String(twice)} fit several` : ""}
      </p>
      <ul aria-label="What would be wired" style={{ listStyle: "none", margin: 0, padding: 0, fontSize: 11.5 }}>
        {view.matches.map(({ part, rule, text, problem }) => (
          <li key={`${part} ${rule}`} style={{ padding: "1px 0" }}>
            {parts[part]?.name}{(counts.get(part) ?? 0) > 1 ? ` · ${rule}` : ""}: <span className="mono" style={{ color: problem ? ink.trouble : ink.quiet }}>{problem ?? text}</span>
          </li>
        ))}
      </ul>
      {missed.length > 0 && <details style={{ fontSize: 11.5, color: ink.quiet }}><summary>fit no rule</summary>{missed.map((id) => parts[id]?.name).join(", ")}</details>}
    </>
  );
}

function keptRules(): Rule[] {
  const kept = remembered(localStorage, store);
  return Array.isArray(kept) ? (kept as Rule[]) : [];
}

function download(rules: Rule[]) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([JSON.stringify(rules, null, 1)], { type: "application/json" }));
  link.download = "rules.bindu.json";
  link.click();
  URL.revokeObjectURL(link.href);
}

function upload(take: (rules: Rule[]) => void) {
  const field = document.createElement("input");
  field.type = "file";
  field.accept = ".json,application/json";
  field.onchange = () => {
    void field.files?.[0]?.text().then((text) => {
      try {
        const found: unknown = JSON.parse(text);
        if (Array.isArray(found)) take(found as Rule[]);
      } catch {
        // No rules in it; those that are there stay.
      }
    });
  };
  field.click();
}
