import { Checkbox } from "antd";

import type { CheckView, ChecksView } from "../state/checks";
import { useLooking, useSetCheck } from "../state/checks";
import { useOpenScene } from "../state/openScene";
import { useEdit } from "../state/useEdit";
import { exact } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { Popup } from "../shared/Popup";
import { Chapter } from "../shared/Chapter";
import { ink } from "../shared/theme";
import { Mark, marks, severities } from "./marks";

/** The checks with their counts, what they look for in words, and what is accepted. */
export function CheckList({ view }: { view: ChecksView }) {
  const counts = new Map<string, number>();
  for (const { check, accepted } of view.findings) if (accepted === null) counts.set(check, (counts.get(check) ?? 0) + 1);
  const sorted = [...view.checks].sort((a, b) => Number((counts.get(b.name) ?? 0) > 0) - Number((counts.get(a.name) ?? 0) > 0));
  return (
    <aside aria-label="Checks" style={{ width: 236, flex: "none", display: "flex", flexDirection: "column", background: ink.panel, borderRight: `1px solid ${ink.line}` }}>
      <div className="scroll" style={{ flex: 1, padding: "10px 12px" }}>
        <div style={{ paddingBottom: 6 }}><Chapter name="Checks" of="Checks" /></div>
        {sorted.map((check) => <CheckRow key={check.name} check={check} count={counts.get(check.name) ?? 0} />)}
        <Accepted view={view} />
      </div>
      <Severities />
    </aside>
  );
}

/** What the marks mean; a click leaves those out, and the next one shows them again. */
function Severities() {
  const hidden = useLooking((looking) => looking.hidden);
  return (
    <div role="group" aria-label="Severities" style={{ display: "flex", gap: 10, padding: "8px 12px", borderTop: `1px solid ${ink.line}`, fontSize: 12 }}>
      {severities.map((severity) => {
        const shown = !hidden.includes(severity);
        return (
          <button
            key={severity}
            type="button"
            className="bare"
            aria-pressed={shown}
            title={shown ? `Leave out what is ${severity}` : `Show what is ${severity} again`}
            onClick={() => { useLooking.setState({ hidden: shown ? [...hidden, severity] : hidden.filter((one) => one !== severity) }); }}
            style={{ color: ink.quiet, textDecoration: shown ? undefined : "line-through" }}
          >
            <span style={{ color: marks[severity].colour }}>{marks[severity].sign}</span> {severity}
          </button>
        );
      })}
    </div>
  );
}

function CheckRow({ check, count }: { check: CheckView; count: number }) {
  const only = useLooking((looking) => looking.check === check.name);
  const { name, why, severity, on, thresholds } = check;
  const first = thresholds[0];
  const said = first ? first.words.replace("{}", exact(first.value)) : "";
  return (
    <div style={{ display: "flex", alignItems: "baseline", minHeight: 26, gap: 2, background: only ? ink.chosen : undefined, borderRadius: 4 }}>
      <button
        type="button"
        className="bare"
        aria-pressed={only}
        title={`${why} Click to see these alone.`}
        onClick={() => { useLooking.setState({ check: only ? null : name }); }}
        style={{ flex: 1, minWidth: 0, textAlign: "left", overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap", color: on ? undefined : ink.quiet }}
      >
        <Mark severity={severity} /> {name} <span style={{ color: ink.quiet, fontSize: 12 }}>{on ? said : <em>off</em>}</span>
      </button>
      <Popup placement="rightTop" title={name} content={() => <CheckSettings check={check} />}>
        <button type="button" className="bare" aria-label={`Settings of ${name}`} title="On or off, and from where on it counts" style={{ color: ink.quiet, padding: "0 4px" }}>…</button>
      </Popup>
      <span className="mono" style={{ width: 22, textAlign: "right", fontWeight: count ? 600 : 400, color: count ? undefined : ink.quiet }}>{on ? count || "–" : ""}</span>
    </div>
  );
}

function CheckSettings({ check }: { check: CheckView }) {
  const set = useSetCheck();
  const { name, on, thresholds } = check;
  const limit = (key: string, value: number) => set({ ...check, thresholds: thresholds.map((one) => (one.key === key ? { ...one, value } : one)) });
  return (
    <div style={{ display: "grid", gap: 8, maxWidth: 280 }}>
      <span style={{ color: ink.quiet }}>{check.why}</span>
      <Checkbox checked={on} onChange={() => void set({ ...check, on: !on })}>look for it in this scene</Checkbox>
      {thresholds.map(({ key, value, unit, words, default: usual }) => {
        const [before = "", after = ""] = words.split("{}");
        return (
          <span key={key} style={{ display: "flex", alignItems: "baseline", gap: 4 }}>
            {before}
            <NumberField label={`${name}: ${key}`} value={value} text={exact(value)} step={unit === "mm" ? 1 : 0.5} width={66} hint={`usually ${exact(usual)} ${unit}`} onCommit={(to) => void limit(key, to)} />
            {after}
          </span>
        );
      })}
    </div>
  );
}

function Accepted({ view }: { view: ChecksView }) {
  const edit = useEdit();
  const parts = useOpenScene((scene) => scene.parts);
  if (!view.accepted.length) return null;
  return (
    <section aria-label="Accepted" style={{ borderTop: `1px solid ${ink.line}`, marginTop: 10, paddingTop: 10, display: "grid", gap: 8 }}>
      <div className="caps">Accepted</div>
      {view.accepted.map((one) => (
        <div key={one.id} style={{ fontSize: 12.5, color: ink.quiet }}>
          {one.check} of {parts[one.part]?.name ?? one.part}{one.span ? ` at ${String(one.span[0])}` : ""}
          <button type="button" className="bare" title="Look at it again" aria-label={`Look at ${one.check} of ${parts[one.part]?.name ?? ""} again`} onClick={() => void edit({ do: "take back acceptance", id: one.id })} style={{ float: "right", textDecoration: "underline dotted" }}>again</button>
          <br />“{one.reason}”
        </div>
      ))}
    </section>
  );
}
