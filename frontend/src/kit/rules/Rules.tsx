import { useQuery } from "@tanstack/react-query";
import { App, Button, Input, Select, Space } from "antd";
import { useState } from "react";

import { post, reason } from "../../api/client";
import type { components } from "../../api/schema";
import { useEdit } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { ink } from "../../shared/theme";
import type { Rule } from "./rules";
import { example, keepRules, rulesIn, useRules } from "./rules";

type View = components["schemas"]["RulesView"];

/** One rule, and what all rules together would wire. */
export function RuleForm({ id }: { id: string }) {
  const { rules } = useRules();
  const rule = rules[Number(id)];
  if (!rule) return null;
  const change = (what: Partial<Rule>) => { keepRules(rules.map((one, n) => (String(n) === id ? { ...one, ...what } : one))); };
  return (
    <div style={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 8 }} onKeyDown={(event) => { if (event.key !== "Escape") event.stopPropagation(); }}>
      <section aria-label={`Rule ${rule.name}`} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: 6, display: "grid", gap: 4 }}>
        <Input size="small" aria-label="Pattern" className="mono" title="* any letters, ? one, [1-6] a number, [left,right] one of these words" value={rule.pattern} onChange={(event) => { change({ pattern: event.target.value }); }} />
        <Space.Compact>
          <Input size="small" aria-label="Channel of the rule" className="mono" value={rule.channel} onChange={(event) => { change({ channel: event.target.value }); }} />
          <Select size="small" aria-label="How the rule writes" style={{ width: 76 }} value={rule.mode ?? "add"} options={["add", "set", "scale"].map((value) => ({ value, label: value }))} onChange={(mode: "add" | "set" | "scale") => { change({ mode }); }} />
        </Space.Compact>
        <Input size="small" aria-label="Formula of the rule" className="mono" title="<1> is what the first wildcard stands for, <2> the second, <0> the whole name" value={rule.formula} onChange={(event) => { change({ formula: event.target.value }); }} />
      </section>
      <AllRules rules={rules} />
    </div>
  );
}

/** What all rules would wire, and doing it. */
function AllRules({ rules }: { rules: Rule[] }) {
  const edit = useEdit();
  const { message } = App.useApp();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const { data, error } = useQuery({
    queryKey: ["rules", sceneId, revision, rules],
    queryFn: () => post<View>(`/api/scenes/${String(sceneId)}/rules`, { rules }),
    gcTime: 0,
  });
  const apply = async () => {
    const before = useOpenScene.getState().header;
    if (!(await edit({ do: "apply rules", rules }))) return;
    const after = useOpenScene.getState().header;
    void message.info(after.revision === before.revision ? "All of it is wired already; nothing changed." : (after.undo ?? ""), 4);
  };
  return (
    <div>
      <Space size={4}>
        <Button size="small" type="primary" disabled={!data?.matches.length} onClick={() => void apply()}>Wire {data?.matches.length ?? 0}</Button>
        <Button size="small" title="Save all rules as a JSON file" onClick={() => { download(rules); }}>Save</Button>
      </Space>
      <Missing rules={rules} />
      {error && <p role="alert" style={{ color: ink.trouble }}>{reason(error)}</p>}
      {data && <Matches view={data} />}
    </div>
  );
}

/** A rule to begin with, one for a list of names, or those of a file. */
export function MakeRule({ onMade }: { onMade: () => void }) {
  const { rules } = useRules();
  const { message } = App.useApp();
  const load = (file: string, text: string) => {
    const found = rulesIn(text);
    if (typeof found === "string") void message.error(`${file} cannot be loaded: ${found} The rules that are here stay.`, 6);
    else {
      keepRules(found);
      onMade();
    }
  };
  const add = (more: Rule[]) => {
    keepRules([...rules, ...more]);
    onMade();
  };
  return (
    <div style={{ display: "grid", gap: 8 }} onKeyDown={(event) => { if (event.key !== "Escape") event.stopPropagation(); }}>
      <Space size={4}>
        <Button size="small" type="primary" onClick={() => { add([{ ...example, name: `rule ${String(rules.length + 1)}` }]); }}>Add a rule</Button>
        <Button size="small" title="Load rules from a JSON file, in the place of those that are here" onClick={() => { upload(load); }}>Load</Button>
      </Space>
      <span style={{ fontSize: 12, color: ink.quiet }}>Or one for the names that a receiving program moves:</span>
      <NameList onAdd={(rule) => { add([rule]); }} />
    </div>
  );
}

/** Names, a line each, as one rule: each named part is driven by the input of its name. */
function NameList({ onAdd }: { onAdd: (rule: Rule) => void }) {
  const [text, setText] = useState("");
  const names = text.split(/[\n,;\t]/).map((name) => name.trim()).filter(Boolean);
  const rule = { name: "input", pattern: `[${names.join(",")}]`, channel: "rotation.x", formula: "{inputs.<1>}", mode: "add" as const };
  return (
    <div style={{ display: "grid", gap: 6 }}>
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

function download(rules: Rule[]) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([JSON.stringify(rules, null, 1)], { type: "application/json" }));
  link.download = "rules.bindu.json";
  link.click();
  URL.revokeObjectURL(link.href);
}

function upload(take: (file: string, text: string) => void) {
  const field = document.createElement("input");
  field.type = "file";
  field.accept = ".json,application/json";
  field.onchange = () => {
    const file = field.files?.[0];
    void file?.text().then((text) => { take(file.name, text); });
  };
  field.click();
}
