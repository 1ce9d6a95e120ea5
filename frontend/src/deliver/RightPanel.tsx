import { Button } from "antd";
import type { ReactNode } from "react";

import type { BakeView, ReportView } from "../api/client";
import { goTo } from "../state/player";
import { counted, shown } from "../shared/format";
import { ink } from "../shared/theme";
import { mm } from "./Bakes";
import type { Show, PanelShown } from "./panel";
import { useBakes } from "./useBakes";

/** A report, a comparison, or who writes the chosen part. */
export function RightPanel({ shown: what, onShow, children }: { shown: PanelShown; onShow: Show; children: ReactNode }) {
  const { data } = useBakes();
  if (what.what === "authority") return children;
  const bake = what.what === "bake" ? data?.bakes.find((one) => one.id === what.bake) : undefined;
  return (
    <div style={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 10 }}>
      <div style={{ display: "flex", alignItems: "baseline", gap: 6 }}>
        <span className="caps" style={{ flex: 1 }}>{what.what === "report" ? "report" : "bake and source"}</span>
        <span className="mono" style={{ fontSize: 11.5, color: ink.quiet, overflow: "hidden", textOverflow: "ellipsis" }}>{what.what === "report" ? what.title : bake?.name}</span>
        <Button type="text" size="small" aria-label="Close the report" title="Back to who writes the part" style={{ height: 18, paddingInline: 5 }} onClick={() => { onShow({ what: "authority" }); }}>×</Button>
      </div>
      {what.what === "report" ? <Report report={what.report} /> : bake ? <Gaps bake={bake} /> : null}
    </div>
  );
}

function Card({ title, children, trouble }: { title: string; children: ReactNode; trouble?: boolean }) {
  return (
    <section aria-label={title} style={{ border: `1px solid ${ink.line}`, borderRadius: 6, background: ink.field, padding: "8px 10px" }}>
      <strong style={{ color: trouble ? ink.trouble : ink.ink }}>{title}</strong>
      {children}
    </section>
  );
}

function Line({ label, value }: { label: string; value: string }) {
  return <div style={{ display: "flex", gap: 8, paddingTop: 4 }}><span style={{ flex: 1 }}>{label}</span><span className="mono">{value}</span></div>;
}

function Report({ report }: { report: ReportView }) {
  const list = (items: string[]) => <ul style={{ margin: "4px 0 0", paddingLeft: 16 }}>{items.map((text) => <li key={text} style={{ overflowWrap: "anywhere" }}>{text}</li>)}</ul>;
  const measured = report.places !== null;
  return (
    <>
      <Card title={measured ? "Read back and compared" : "In the file"}>
        <Line label={`${counted(report.parts, "part")}, ${counted(report.clips, "clip")}`} value={size(report.size)} />
        {measured && <Line label="places, worst" value={`${shown((report.places ?? 0) * 1000, "", 4)} mm`} />}
        {measured && <Line label="turns, worst" value={`${shown(report.turns ?? 0, "", 5)}°`} />}
        {report.worst && <Line label="there" value={`${report.worst[0]} at ${String(report.worst[1])}`} />}
      </Card>
      {report.held.length > 0 && <Card title="Held">{list(report.held)}</Card>}
      {report.otherwise.length > 0 && <Card title="Held otherwise">{list(report.otherwise)}</Card>}
      {report.lost.length > 0 && <Card title="Not held" trouble>{list(report.lost)}</Card>}
    </>
  );
}

function size(bytes: number): string {
  if (bytes < 1000) return `${String(bytes)} bytes`;
  return bytes < 1_000_000 ? `${(bytes / 1000).toFixed(0)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`;
}

function Gaps({ bake }: { bake: BakeView }) {
  const cell = { padding: "2px 4px", textAlign: "right", whiteSpace: "nowrap" } as const;
  if (!bake.gaps.length) return <p style={{ margin: 0 }}>{bake.state === "fresh" ? "It is what its source is." : (bake.problem ?? "Nothing has moved.")}</p>;
  return (
    <>
      {bake.problem && <p style={{ margin: 0, color: ink.trouble }}>{bake.problem}</p>}
      <table aria-label="How far each part is from its source" style={{ width: "100%", borderCollapse: "collapse", fontSize: 12 }}>
        <thead><tr style={{ color: ink.quiet }}><th style={{ ...cell, textAlign: "left", fontWeight: 400 }}>part</th><th style={{ ...cell, fontWeight: 400 }}>place</th><th style={{ ...cell, fontWeight: 400 }}>turn</th><th style={{ ...cell, fontWeight: 400 }}>frame</th></tr></thead>
        <tbody>
          {bake.gaps.map((gap) => (
            <tr key={gap.part} style={{ borderTop: `1px solid ${ink.line}` }}>
              <td style={{ ...cell, textAlign: "left", whiteSpace: "normal" }}>{gap.part}</td>
              <td className="mono" style={cell}>{mm(gap.places)}</td>
              <td className="mono" style={cell}>{shown(gap.turns, "°")}</td>
              <td style={cell}><button type="button" className="bare mono" style={{ textDecoration: "underline dotted" }} onClick={() => { goTo(gap.frame); }}>{gap.frame}</button></td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
