import type { BeadView } from "../api/client";
import { usePlayer } from "../state/player";
import { useSamples } from "../state/samples";
import { chooseChannel, choosePart } from "../state/selection";
import { figure, shown } from "../shared/format";
import type { Tap } from "../shared/taps";
import { tapInk } from "../shared/tapColours";
import { unitIn, useOpenScene, usePart } from "../state/openScene";

/** What a step reads: value and tap; a click goes there. */
export function Reads({ bead }: { bead: BeadView }) {
  if (!bead.reads.length) return null;
  return (
    <ul aria-label="reads" style={{ listStyle: "none", margin: "3px 0 0", padding: 0, fontSize: 11.5 }}>
      {bead.reads.filter(({ quantity }) => quantity !== "solve").map((read) => (
        <li key={`${read.node} ${read.tap}`} style={{ display: "flex", gap: 6 }}>
          <span style={{ flex: 1 }}><Source read={read} /> <span style={{ color: tapInk[read.tap as Tap] }}>@{read.tap}</span></span>
          <span className="mono" style={{ whiteSpace: "nowrap" }}><Seen read={read} plain={calculating.has(bead.kind)} /></span>
        </li>
      ))}
    </ul>
  );
}

function Source({ read }: { read: BeadView["reads"][number] }) {
  const channel = usePart(read.part)?.channels.some(({ id }) => id === read.quantity);
  return (
    <button
      type="button"
      title={`Go to ${read.label}`}
      onClick={(event) => {
        event.stopPropagation();
        if (channel) chooseChannel(read.part, read.quantity);
        else choosePart(read.part);
      }}
      style={{ all: "unset", cursor: "pointer", textDecoration: "underline dotted" }}
    >
      {read.label}
    </button>
  );
}

/** What calculates does so in metres and degrees, however the scene is looked at. */
const calculating = new Set(["formula", "driven keys"]);
const units: Record<string, string> = { translation: "m", rotation: "°", "world position": "m", "world matrix": "m", travelled: "m" };

/** All numbers of what is read, on this frame. */
function Seen({ read: { node, part, quantity }, plain }: { read: BeadView["reads"][number]; plain: boolean }) {
  const block = useSamples((samples) => samples.blocks[node]);
  const first = useSamples((samples) => samples.first);
  const frame = usePlayer((player) => player.frame);
  const unit = useOpenScene((scene) => unitIn(scene.parts, part, quantity) || (units[quantity] ?? ""));
  if (!block) return <>—</>;
  const place = block.frames === 1 ? 0 : Math.min(Math.max(frame - first, 0), block.frames - 1);
  const row = block.data.slice(place * block.width, (place + 1) * block.width);
  // Of a whole place the position says most.
  const told = block.width === 12 ? [row[3], row[7], row[11]] : [...row.slice(0, block.width > 4 ? 3 : 4)];
  const write = plain ? severalPlain : several;
  const exactly = write(told, unit, 6);
  const title = block.width > 4 ? `its position: ${exactly}` : exactly;
  return <span title={title}>{write(told, unit, told.length > 1 ? 2 : undefined)}</span>;
}

/** Numbers with one unit behind the last, as the scene is looked at. */
function several(values: (number | undefined)[], unit: string, decimals?: number): string {
  const all = values.map((value = 0) => figure(value, unit, decimals));
  return [...all.slice(0, -1), shown(values.at(-1), unit, decimals)].join(", ");
}

/** The same in metres and degrees. */
function severalPlain(values: (number | undefined)[], unit: string, decimals = unit === "°" ? 2 : 3): string {
  return values.map((value = 0) => figure(value, "", decimals)).join(", ") + (unit === "°" || !unit ? unit : ` ${unit}`);
}
