import { Button, Select, Slider } from "antd";
import { useEffect, useRef, useState } from "react";

import type { OneEdit } from "../../api/client";
import { usePlayer } from "../../state/player";
import { feed } from "../../state/samples";
import { useCommand } from "../../state/useEdit";
import { Amount, Apply } from "../../shared/Amount";
import { isNumber, typed } from "../../shared/arithmetic";
import { ink } from "../../shared/theme";
import { keptCurves } from "../compare/comparison";
import { chosenPicks } from "./keyCommands";

const towards = {
  left: "the key on the left",
  right: "the key on the right",
  line: "the line between them",
  ease: "the ease between them",
  default: "the default pose",
  mirrored: "the mirrored pose",
  reference: "the kept reference",
  frame: "the pose at another frame",
  average: "their average",
  smooth: "the line of each one’s neighbours: smooth",
} as const;
type TowardWhat = keyof typeof towards;
/** What has a meaning for places in the world. */
const places = ["left", "right", "line", "ease", "frame"] as const;
type TowardPlace = (typeof places)[number];
const isPlace = (toward: TowardWhat): toward is TowardPlace => (places as readonly string[]).includes(toward);

interface Aim {
  toward: TowardWhat;
  inWorld: boolean;
  /** What was typed for the frame to go toward. */
  frame: string;
}

/** One slider for the chosen keys: toward something, or away from it; live while it moves, one edit. */
export function Degrees({ onDone }: { onDone: () => void }) {
  const command = useCommand();
  const [aim, setAim] = useState<Aim>(() => ({ toward: "line", inWorld: false, frame: String(usePlayer.getState().frame) }));
  const [degree, setDegree] = useState(0);
  const good = aim.toward !== "frame" || isNumber(aim.frame);
  // Closed in the middle, what was only tried is given up.
  useEffect(() => () => { feed.tryOut([]); }, []);
  const onTry = (to: number) => {
    setDegree(to);
    feed.tryOut(to === 0 || !good ? [] : [editOf(aim, to)]);
  };
  const onApply = (to: number) => {
    if (to === 0 || !good) return;
    void command(() => undefined, editOf(aim, to)).then(() => { setDegree(0); });
  };
  return (
    <div style={{ display: "grid", gap: 8 }}>
      <Toward aim={aim} degree={degree} onChange={setAim} />
      <DegreeSlider degree={degree} onTry={onTry} onApply={onApply} />
      <span style={{ display: "flex", alignItems: "center", gap: 6, borderTop: `1px solid ${ink.line}`, paddingTop: 8 }}>
        <Thin onDone={onDone} />
        <span style={{ flex: 1 }} />
        <Apply good={good} disabled={degree === 0} title={degree === 0 ? "Move the slider first" : "Or Enter on the slider"} onClick={() => { onApply(degree); }}>Apply</Apply>
        <Button size="small" title="No angle jumps by a turn or flips; the pose on every key stays" onClick={() => void command(onDone, { do: "continuous angles", parts: [...new Set(chosenPicks().map(({ part }) => part))] })}>Continuous</Button>
      </span>
    </div>
  );
}

/** The chosen keys so many per cent of the way. */
function editOf({ toward, inWorld, frame }: Aim, degree: number): OneEdit {
  const picks = chosenPicks();
  const shared = { picks, degree: degree / 100, frame: toward === "frame" ? (typed(frame, 0) ?? 0) : null };
  if (inWorld && isPlace(toward)) return { do: "by degrees in world", toward, ...shared };
  return { do: "by degrees", toward, ...shared, kept: toward === "reference" ? (keptCurves(picks) ?? []) : [] };
}

/** What the keys go toward, in curves or in the world, and how far. */
function Toward({ aim, degree, onChange }: { aim: Aim; degree: number; onChange: (aim: Aim) => void }) {
  const { toward, inWorld, frame } = aim;
  const isKept = keptCurves([]) !== null;
  const options = Object.entries(towards).map(([key, label]) => {
    const value = key as TowardWhat;
    const missing = value === "reference" && !isKept;
    return { value, label: missing ? `${label}: keep one under Compare… first` : label, disabled: missing || (inWorld && !isPlace(value)) };
  });
  const setInWorld = (world: boolean) => { onChange({ ...aim, inWorld: world, toward: world && !isPlace(toward) ? "line" : toward }); };
  return (
    <span style={{ display: "flex", alignItems: "center", gap: 6 }}>
      <span style={{ color: ink.quiet }}>toward</span>
      <Select<TowardWhat> size="small" aria-label="toward" style={{ flex: 1 }} value={toward} options={options} onChange={(what) => { onChange({ ...aim, toward: what }); }} />
      <Select size="small" aria-label="by degrees in" title="Values of curves, or places in the world, whatever carries the parts" style={{ width: 114 }} value={inWorld} options={[{ value: false, label: "in curves" }, { value: true, label: "in the world" }]} onChange={setInWorld} />
      <span className="mono" data-degree={degree} style={{ width: 44, textAlign: "right" }}>{degree} %</span>
      {toward === "frame" && <Amount label="toward which frame" width={56} value={frame} onChange={(text) => { onChange({ ...aim, frame: text }); }} />}
    </span>
  );
}

/** The hand lets go once; keys go on one by one until Enter. */
function DegreeSlider({ degree, onTry, onApply }: { degree: number; onTry: (to: number) => void; onApply: (to: number) => void }) {
  const byHand = useRef(false);
  return (
    <div
      style={{ padding: "0 14px" }}
      onPointerDown={() => { byHand.current = true; }}
      onKeyDown={(event) => {
        byHand.current = false;
        if (event.key === "Enter") onApply(degree);
      }}
    >
      <Slider
        min={-100}
        max={200}
        step={1}
        value={degree}
        marks={{ "-100": "−100", 0: "0", 100: "100 %", 200: "200" }}
        ariaLabelForHandle="By so many per cent"
        tooltip={{ open: false }}
        onChange={onTry}
        onChangeComplete={(to) => { if (byHand.current) onApply(to); }}
      />
    </div>
  );
}

/** Fewer keys for the same curves, within a tolerance. */
function Thin({ onDone }: { onDone: () => void }) {
  const command = useCommand();
  const [tolerance, setTolerance] = useState("0.001");
  return (
    <>
      <span style={{ color: ink.quiet }}>within</span>
      <Amount label="tolerance" width={70} value={tolerance} onChange={setTolerance} />
      <Apply good={isNumber(tolerance)} title="Takes keys away without which the curves stay within so much" onClick={() => void command(onDone, { do: "thin keys", picks: chosenPicks(), tolerance: typed(tolerance, 0) ?? 0 })}>Thin</Apply>
    </>
  );
}
