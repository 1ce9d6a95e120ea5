import { Alert, Button } from "antd";
import { useMemo, useState } from "react";

import type { BeadView } from "../api/client";
import { reason } from "../api/client";
import { useLedger } from "../state/scene";
import { useChosenChannel, useChosenPart, useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { useWants } from "../state/samples";
import { useLooked } from "../state/surfaces";
import { taps } from "../shared/taps";
import { Chapter } from "../shared/Chapter";
import { ink } from "../shared/theme";
import { AddStep } from "./AddStep";
import { Bead } from "./Bead";
import { Causes } from "./Causes";
import { PartAccount } from "./PartAccount";
import { LastWord } from "./LastWord";
import { SurfaceAccount } from "./surfaces/SurfaceAccount";

/** The account of the surface that is looked at, else of the chosen channel. */
export function Account() {
  const looked = useLooked((state) => state.surface);
  const surface = useOpenScene((scene) => scene.header.surfaces.find((one) => one.id === looked));
  return surface ? <SurfaceAccount surface={surface} /> : <Ledger />;
}

/** The account of the chosen channel: a string with a bead for each step. */
export function Ledger() {
  const part = useChosenPart();
  const channel = useChosenChannel();
  const group = /^(translation|rotation|scale)\.[xyz]$/.exec(channel?.id ?? "")?.[1];
  const [whole, setWhole] = useState(false);
  const shownGroup = whole ? group : undefined;
  return (
    <>
      <div style={{ display: "flex", alignItems: "baseline", padding: "10px 12px 6px", gap: 8 }}>
        <span style={{ flex: 1 }}><Chapter name="Ledger" of="The ledger" /></span>
        {group && (
          <Button type="text" size="small" aria-pressed={whole} title={`The account of the whole ${group}, x, y and z together`} style={{ height: 18, paddingInline: 5, fontSize: 11 }} onClick={() => { setWhole(!whole); }}>{whole ? "one axis" : "x y z"}</Button>
        )}
        {part && !channel && <span style={{ fontSize: 11.5, fontWeight: 600, color: ink.quiet, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{part.name}, the whole part</span>}
        {part && channel && (
          <span className="mono" style={{ fontSize: 11.5, fontWeight: 600, color: ink.quiet }}>
            {part.name}.{shownGroup ?? channel.name} @ <Frame />
          </span>
        )}
      </div>
      {part && channel ? (
        <Beads key={`${part.id}/${shownGroup ?? channel.id}`} part={part.id} channel={shownGroup ?? channel.id} />
      ) : part ? (
        <PartAccount key={part.id} part={part} />
      ) : (
        <p style={{ padding: "0 12px", color: ink.quiet }}>
          Choose a channel anywhere to see why its value is what it is: each step that writes it,
          what came in and what went out.
        </p>
      )}
    </>
  );
}

/** The translation, rotation or scale that a channel belongs to. */
function groupOf(channel: string | undefined): string | null {
  return /^(translation|rotation|scale)\.[xyz]$/.exec(channel ?? "")?.[1] ?? null;
}

function isGroup(channel: string): boolean {
  return groupOf(`${channel}.x`) !== null;
}

function Frame() {
  return <>{usePlayer((player) => player.frame)}</>;
}

function Beads({ part, channel }: { part: string; channel: string }) {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const { data: ledger, error } = useLedger(sceneId, part, channel);
  const names = useMemo(() => wantsOf(ledger?.beads ?? []), [ledger]);
  useWants(names);
  if (error) return <Alert type="error" showIcon message={reason(error)} style={{ margin: 12 }} />;
  if (!ledger) return <p role="status" style={{ padding: "0 12px", color: ink.quiet }}>The account is being made …</p>;
  return (
    <>
    {!isGroup(channel) && <LastWord part={part} channel={channel} />}
    <div className="scroll" style={{ flex: 1, padding: "0 10px 16px 8px" }}>
      {taps.map((zone, n) => (
        <Zone
          key={zone}
          number={n + 1}
          zone={zone}
          unit={ledger.unit}
          part={part}
          beads={ledger.beads.filter((bead) => bead.zone === zone)}
        />
      ))}
    </div>
    {!isGroup(channel) && <Causes part={part} channel={channel} />}
    </>
  );
}

function wantsOf(beads: BeadView[]): string[] {
  const nodes = beads.flatMap((bead) => [
    bead.incoming,
    bead.outgoing,
    ...bead.incomings,
    ...bead.outgoings,
    ...bead.reads.map((read) => read.node),
  ]);
  return [...new Set(nodes.filter((node) => node != null))];
}

interface ZoneProps {
  number: number;
  zone: (typeof taps)[number];
  unit: string;
  part: string;
  beads: BeadView[];
}

function Zone({ number, zone, unit, part, beads }: ZoneProps) {
  return (
    <section aria-label={zone} style={{ position: "relative" }}>
      <String />
      <div style={{ display: "flex", alignItems: "center", height: 26 }}>
        <span
          className="mono"
          style={{ width: 20, flex: "none", textAlign: "center", color: ink.quiet, background: ink.panel, zIndex: 1, fontSize: 11 }}
        >
          {number}
        </span>
        <span className="caps" style={{ marginLeft: 10, flex: "none" }}>{zone}</span>
        <span style={{ order: 2, flex: "1 0 auto", textAlign: "right", whiteSpace: "nowrap" }}>
          <AddStep zone={zone} />
        </span>
        {!beads.length && (
          <span title="nothing writes here" style={{ color: ink.quiet, fontSize: 11.5, marginLeft: 10, minWidth: 0, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>nothing writes here</span>
        )}
      </div>
      {beads.map((bead) => (
        <Bead key={bead.step ?? "own"} bead={bead} unit={unit} part={part} />
      ))}
    </section>
  );
}

function String() {
  return (
    <span
      aria-hidden
      style={{ position: "absolute", left: 9, top: 0, bottom: 0, width: 2, background: ink.rail }}
    />
  );
}
