import { Handle, Position } from "@xyflow/react";
import type { Node, NodeProps } from "@xyflow/react";
import { memo } from "react";

import type { CardView, PortView } from "../state/order";
import { useOpenScene, usePart } from "../state/openScene";
import { chooseChannel, choosePart, chooseStep, useSelection } from "../state/selection";
import type { Tap } from "../shared/taps";
import { tapColour, tapInk } from "../shared/tapColours";
import { ink } from "../shared/theme";
import { cardWidth, headHeight, portHeight } from "./layout";
import { toggleFold, useWiring } from "./state";

export type CardNodeType = Node<{ card: CardView; looped: boolean; foldable: boolean }, "card">;

/** In which zone a card's thing has its place: a limb solves, a surface comes after all. */
const tapOf = { part: "final", limb: "solved", surface: "final" } as const;

/** A part, a limb or a surface, with the ports that matter: steps with a dot on the left, values that are read on the
 * right. */
export const CardNode = memo(function CardNode({ data }: NodeProps<CardNodeType>) {
  const { card, looped, foldable } = data;
  const name = useName(card);
  const chosen = useSelection(({ part, channel }) => (card.thing ? channel?.startsWith(`${card.thing}.`) === true : part === card.part));
  const isFolded = card.id.endsWith("/folded");
  const border = looped ? ink.trouble : chosen ? ink.ink : ink.line;
  return (
    <article
      aria-label={`${card.thing ? `${card.kind} ` : ""}${name}${card.id.endsWith("/before") ? ", earlier" : ""}`}
      style={{ width: cardWidth, background: ink.field, border: `${looped || chosen ? "2px" : "1px"} solid ${border}`, ...(card.thing ? { borderLeft: `5px solid ${tapColour[tapOf[card.kind]]}` } : {}), borderRadius: 8, boxSizing: "border-box", fontSize: 12, paddingBottom: 4 }}
    >
      <div style={{ display: "flex", alignItems: "center", height: headHeight, padding: "0 6px 0 10px" }}>
        <button type="button" title={`Choose ${name}`} onClick={() => { const [port] = card.ports; if (card.thing && port) chooseChannel(card.part, port.channel); else choosePart(card.part); }} style={{ all: "unset", cursor: "pointer", flex: 1, fontWeight: 600, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
          {name}{card.thing && <span className="caps" style={{ marginLeft: 6, fontWeight: 400, color: tapInk[tapOf[card.kind]] }}>{card.kind}</span>}
        </button>
        {(foldable || isFolded) && (
          <button type="button" aria-label={`${isFolded ? "Unfold" : "Fold"} ${name}`} title={isFolded ? "Unfold its subtree" : "Fold its subtree into one card"} onClick={() => { toggleFold(card.part); }} style={{ all: "unset", cursor: "pointer", padding: "0 4px", color: ink.quiet }}>
            {isFolded ? "+" : "−"}
          </button>
        )}
      </div>
      {card.ports.map((port) => <Port key={port.id} port={port} said={!card.thing && suffixed(port)} takes={!card.thing} />)}
    </article>
  );
});

function useName(card: CardView): string {
  const part = usePart(card.part);
  const thing = useOpenScene(({ header }) => [...header.limbs, ...header.surfaces].find(({ id }) => id === card.thing)?.name);
  return thing ?? part?.name ?? card.part;
}

/** Whether the zone or tap is said in words too: of a bound step its kind says it. */
function suffixed(port: PortView): boolean {
  if (port.side === "source") return port.tap !== "final";
  return port.tap !== "bound" || port.label.includes(".");
}

/** `takes`: a wire can be drawn to it, so that it reads what that comes from. */
function Port({ port, said, takes }: { port: PortView; said: boolean; takes: boolean }) {
  const chosen = useSelection(({ step, part, channel }) => (port.step ? step === port.step : part === port.part && channel === port.channel && step === null));
  const tap = port.tap as Tap;
  const plain = port.side === "source" ? tapColour.keyed : (tapColour[tap] ?? ink.quiet);
  const colour = port.held ? ink.trouble : plain;
  const words = port.side === "step" ? `${port.label} · ${port.tap}${port.on ? "" : ", muted"}${port.held ? ", held by a loop" : ""}` : `${port.label} at ${port.tap}`;
  const dot = { width: 9, height: 9, minWidth: 0, minHeight: 0, border: `2px solid ${colour}`, background: port.side === "step" && port.on ? colour : ink.field };
  return (
    <div style={{ position: "relative", height: portHeight, background: chosen ? ink.chosen : undefined, opacity: port.on ? 1 : 0.5 }}>
      <Handle type="target" position={Position.Left} id={port.id} isConnectable={takes && port.side === "step"} style={port.side === "step" ? dot : { ...dot, visibility: "hidden" }} />
      <button
        type="button"
        aria-label={words}
        title={`${words}: open its ledger`}
        onClick={() => {
          chooseChannel(port.part, port.channel);
          chooseStep(port.step);
          useWiring.setState({ wire: null, tab: "ledger" });
        }}
        className="mono"
        style={{ all: "unset", boxSizing: "border-box", cursor: "pointer", width: "100%", fontFamily: "'IBM Plex Mono', monospace", padding: "0 10px", lineHeight: `${String(portHeight)}px`, fontSize: 11, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}
      >
        {port.label}
        {said && <span style={{ color: tapInk[tap] ?? ink.quiet }}> · {port.tap}</span>}
      </button>
      <Handle type="source" position={Position.Right} id={port.id} isConnectable={port.side === "source"} style={port.side === "source" ? { ...dot, background: colour, width: 7, height: 7 } : { ...dot, visibility: "hidden" }} />
    </div>
  );
}
