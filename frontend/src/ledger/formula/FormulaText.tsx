import type { BeadView, StepView } from "../../api/client";
import { usePlayer } from "../../state/player";
import { useSamples, valueAt } from "../../state/samples";
import { shown } from "../../shared/format";
import { tapInk } from "../../shared/tapColours";
import { ink } from "../../shared/theme";
import { Factor } from "./Factor";
import { tokensOf } from "./tokens";

interface Props {
  step: StepView;
  text: string;
  reads: BeadView["reads"];
  onEdit: () => void;
}

/** A formula to be read: numbers can be dragged in place, references show their value. */
export function FormulaText({ step, text, reads, onEdit }: Props) {
  return (
    <span className="mono" style={{ fontSize: 11.5, overflowWrap: "anywhere", lineHeight: 1.65 }}>
      {tokensOf(text).map(({ kind, text: word, start, place }) =>
        kind === "number" && place !== undefined ? (
          <Factor key={start} step={step} place={place} value={Number(word)} word={word} />
        ) : kind === "reference" ? (
          <Chip key={start} word={word} reads={reads} onEdit={onEdit} />
        ) : (
          <span key={start} onClick={onEdit} style={{ cursor: "text", color: kind === "name" ? tapInk.driven : ink.quiet }}>{word}</span>
        ),
      )}
    </span>
  );
}

/** A reference with its value at the playhead. */
function Chip({ word, reads, onEdit }: { word: string; reads: BeadView["reads"]; onEdit: () => void }) {
  const [path = "", tap = "final"] = word.slice(1, -1).split("@");
  const read = reads.find((one) => one.label === path.trim() && one.tap === tap.trim());
  const block = useSamples((samples) => (read ? samples.blocks[read.node] : undefined));
  const first = useSamples((samples) => samples.first);
  const value = usePlayer(({ frame }) => valueAt(block, frame, first));
  return (
    <span onClick={onEdit} title={read ? `${path} at ${tap}` : path} style={{ cursor: "text", background: ink.hover, borderRadius: 4, padding: "1px 4px", color: ink.ink }}>
      {word.slice(1, -1)}
      {value !== undefined && block?.width === 1 && <span style={{ color: tapInk[tap.trim() as keyof typeof tapInk] }}> {shown(value)}</span>}
    </span>
  );
}
