import { scaleLinear } from "d3-scale";
import { useEffect, useRef } from "react";

import type { FindingView } from "../state/checks";
import { chooseFinding, useLooking } from "../state/checks";
import { useOpenScene } from "../state/openScene";
import { goTo, usePlayer } from "../state/player";
import { useSize } from "../shared/useSize";
import { ink } from "../shared/theme";
import { marks } from "./marks";
import type { Row } from "./order";
import { saidAmount } from "./order";

const names = 148;
const rowHeight = 46;

/** A strip for each part with findings, over the frames of the scene: when it is in trouble. */
export function Strips({ rows }: { rows: Row[] }) {
  const { ref, width } = useSize<HTMLDivElement>();
  const { first, last } = useOpenScene((scene) => scene.header);
  const at = scaleLinear([first, Math.max(last, first + 1)], [names + 8, Math.max(width - 22, names + 60)]);
  return (
    <div ref={ref} className="scroll" style={{ flex: 1, minHeight: 120, position: "relative" }}>
      {width > 0 && (
        <>
          <Frames at={at} first={first} last={last} />
          {rows.map((row) => <Strip key={row.part} row={row} at={at} />)}
        </>
      )}
    </div>
  );
}

type Scale = (frame: number) => number;

function Frames({ at, first, last }: { at: Scale; first: number; last: number }) {
  const frame = usePlayer((player) => player.frame);
  const span = useLooking((looking) => looking.span);
  const ticks = scaleLinear([first, last], [0, 1]).ticks(6).filter(Number.isInteger);
  const scrub = (event: React.PointerEvent) => {
    if (!(event.buttons & 1)) return;
    const { left } = event.currentTarget.getBoundingClientRect();
    const [a, b] = [at(first), at(last)];
    goTo(first + ((event.clientX - left - a) / (b - a)) * (last - first));
  };
  return (
    <div onPointerDown={scrub} onPointerMove={scrub} style={{ position: "sticky", top: 0, height: 30, zIndex: 2, background: ink.ground, borderBottom: `1px solid ${ink.line}`, cursor: "ew-resize", touchAction: "none" }}>
      {span && <Outside from={at(first) + 3} to={at(Math.max(span[0], first))} />}
      {span && <Outside from={at(Math.min(span[1], last))} to={at(last) + 22} />}
      {ticks.map((tick) => <span key={tick} className="mono" style={{ position: "absolute", left: at(tick), transform: "translateX(-50%)", top: 8, fontSize: 11, color: ink.quiet }}>{tick}</span>)}
      <span aria-hidden style={{ position: "absolute", left: Math.round(at(frame)) - 1, top: 24, height: "100vh", width: 2, background: ink.now, pointerEvents: "none" }} />
      <span aria-hidden style={{ position: "absolute", left: at(frame) - 5, top: 20, width: 10, height: 10, borderRadius: 5, background: ink.now, pointerEvents: "none" }} />
    </div>
  );
}

/** Veils frames that are left out, down all strips; not the marks before them, of what concerns all frames. */
function Outside({ from, to }: { from: number; to: number }) {
  return <span aria-hidden style={{ position: "absolute", left: from, width: Math.max(to - from, 0), top: 0, height: "100vh", background: ink.ground, opacity: 0.7, outline: `1px solid ${ink.quiet}`, pointerEvents: "none" }} />;
}

function Strip({ row, at }: { row: Row; at: Scale }) {
  const name = useOpenScene((scene) => scene.parts[row.part]?.name ?? row.part);
  const chosen = useLooking((looking) => row.findings.some(({ id }) => id === looking.finding));
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => { if (chosen) box.current?.scrollIntoView({ block: "nearest" }); }, [chosen]);
  const [only] = row.findings;
  const said = row.findings.length === 1 && only ? `${only.check} · ${saidAmount(only.amount, only.unit)}` : [...new Set(row.findings.map(({ check }) => check))].join(" · ");
  return (
    <div ref={box} role="group" aria-label={`Findings of ${name}`} style={{ position: "relative", height: rowHeight, borderBottom: `1px solid ${ink.line}`, background: chosen ? ink.chosen : undefined }}>
      <button type="button" className="bare" onClick={() => { chooseFinding(only?.id ?? null); }} style={{ position: "absolute", left: 14, top: 3, width: names - 14, textAlign: "left", overflow: "hidden" }}>
        <div style={{ fontWeight: 600, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{name}</div>
        <div style={{ fontSize: 12, color: ink.quiet, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }} title={said}>{said}</div>
      </button>
      {row.findings.map((finding, n) => <Marks key={finding.id} finding={finding} at={at} place={n} of={row.findings.length} />)}
    </div>
  );
}

/** Where a finding is: spans as bands, single frames as its mark; one that concerns all, at the left. */
function Marks({ finding, at, place, of }: { finding: FindingView; at: Scale; place: number; of: number }) {
  const chosen = useLooking((looking) => looking.finding === finding.id);
  const { sign, colour } = marks[finding.severity];
  const middle = rowHeight / 2 + (of > 1 ? (place / (of - 1) - 0.5) * Math.min(9 * (of - 1), 24) : 0);
  const spans = finding.spans.length ? finding.spans : [null];
  const choose = () => {
    chooseFinding(finding.id);
    if (finding.frame !== null) goTo(finding.frame);
  };
  const faint = finding.accepted === null ? 1 : 0.35;
  return spans.map((span, n) => {
    const [a, b] = span ?? [0, 0];
    const wide = span !== null && at(b) - at(a) > 9;
    const left = span === null ? names - 4 : wide ? at(a) : at((a + b) / 2) - 7;
    return (
      <button
        key={n}
        type="button"
        className="bare"
        aria-label={`${finding.check}: ${finding.text}`}
        aria-pressed={chosen}
        title={finding.text}
        onClick={choose}
        style={{
          position: "absolute", left, top: middle - 7, height: 14, width: wide ? at(b) - at(a) : 14, lineHeight: "14px", textAlign: "center", color: colour, opacity: faint, boxSizing: "border-box",
          outline: chosen ? `2px solid ${ink.ink}` : undefined, outlineOffset: 1, borderRadius: 3,
          ...(wide ? { border: `1px solid ${colour}`, background: band(finding.severity, colour) } : {}),
        }}
      >
        {wide ? "" : sign}
      </button>
    );
  });
}

function band(severity: FindingView["severity"], colour: string): string {
  if (severity === "wrong") return `${colour}55`;
  if (severity === "doubtful") return `repeating-linear-gradient(135deg, ${colour}66 0 3px, transparent 3px 7px)`;
  return "transparent";
}
