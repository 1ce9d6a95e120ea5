import type { Connection, Edge, EdgeProps } from "@xyflow/react";
import { Background, BackgroundVariant, BaseEdge, Controls, MarkerType, ReactFlow, ReactFlowProvider, useReactFlow, useViewport } from "@xyflow/react";
import "@xyflow/react/dist/style.css";
import { useEffect, useMemo, useRef } from "react";

import type { WireView } from "../state/order";
import { useEdit } from "../state/useEdit";
import { useOpenScene } from "../state/openScene";
import { useSelection } from "../state/selection";
import type { Tap } from "../shared/taps";
import { tapColour } from "../shared/tapColours";
import { ink } from "../shared/theme";
import type { CardNodeType } from "./CardNode";
import { CardNode } from "./CardNode";
import type { Picture as Shown } from "./filter";
import type { Places } from "./layout";
import { cardHeight, cardWidth, columnWidth, many, useLayout } from "./layout";
import { connectEdit, idOf } from "./reads";
import { useWiring } from "./state";

const kinds = { card: CardNode };
const edgeKinds = { under: UnderEdge };

/** Cards in columns by rank, and the reads between them in the taps' colours. */
export function Picture({ shown }: { shown: Shown }) {
  return (
    <ReactFlowProvider>
      <Flow shown={shown} />
    </ReactFlowProvider>
  );
}

function Flow({ shown }: { shown: Shown }) {
  const edit = useEdit();
  const places = useLayout(shown);
  const nodes = useNodes(shown, places);
  const chosen = useWiring(({ wire }) => wire);
  const edges = useMemo(() => {
    const heights = new Map(shown.cards.map((card) => [card.id, cardHeight(card.ports.length)]));
    return shown.wires.map((wire) => edgeOf(wire, chosen, places ?? {}, heights));
  }, [shown, chosen, places]);
  useFitted(shown, places);
  return (
    <ReactFlow
      nodes={nodes}
      edges={edges}
      nodeTypes={kinds}
      edgeTypes={edgeKinds}
      minZoom={0.05}
      maxZoom={1.6}
      onlyRenderVisibleElements
      nodesConnectable
      elementsSelectable
      proOptions={{ hideAttribution: true }}
      onEdgeClick={(_, edge) => { useWiring.setState({ wire: shown.wires.find((wire) => idOf(wire) === edge.id) ?? null, tab: "order" }); }}
      onPaneClick={() => { useWiring.setState({ wire: null }); }}
      onConnect={(connection: Connection) => {
        const made = connectEdit(connection.sourceHandle ?? "", connection.targetHandle ?? "");
        if (made) void edit(made);
      }}
    >
      <Columns shown={shown} places={places} />
      <Background variant={BackgroundVariant.Dots} gap={24} color={ink.line} />
      <Controls showInteractive={false} position="top-left" style={{ marginTop: 44 }} />
    </ReactFlow>
  );
}

/** The cards that have a place, marked where they lie in a loop or have others folded below them. */
function useNodes(shown: Shown, places: Places | null): CardNodeType[] {
  const parts = useOpenScene((scene) => scene.parts);
  const looped = useMemo(() => new Set(shown.wires.filter((wire) => wire.looped).flatMap((wire) => [wire.source_card, wire.target_card])), [shown.wires]);
  const tops = useMemo(() => new Set(shown.cards.map(({ part }) => parts[part]?.parent).filter((id) => id != null)), [shown.cards, parts]);
  return useMemo(
    () =>
      shown.cards.flatMap((card) => {
        const position = places?.[card.id];
        return position ? [{ id: card.id, type: "card" as const, position, draggable: false, data: { card, looped: looped.has(card.id), foldable: !card.thing && tops.has(card.part) } }] : [];
      }),
    [shown.cards, places, looped, tops],
  );
}

/** An edit leaves the picture where it was put; other cards are all brought into sight. */
function useFitted(shown: Shown, places: Places | null) {
  const { fitView, setCenter } = useReactFlow();
  const fitted = useRef<{ cards: string; of: Shown | null }>({ cards: "", of: null });
  useEffect(() => {
    const cards = shown.cards.map(({ id }) => id).join();
    if (!places || shown.cards.some(({ id }) => !places[id])) return;
    if (fitted.current.cards === cards && fitted.current.of !== shown) return;
    fitted.current = { cards, of: shown };
    if (shown.cards.length > many) {
      // All of a big picture would be too small to read: begin at the chosen part.
      const { part } = useSelection.getState();
      const card = shown.cards.find((one) => one.part === part) ?? shown.cards[0];
      const at = card ? places[card.id] : undefined;
      if (at) void setCenter(at.x, at.y + 40, { zoom: 0.75 });
      return;
    }
    void fitView({ padding: { top: "48px", bottom: "64px", left: "60px", right: "40px" }, maxZoom: 1 });
  }, [places, shown, fitView, setCenter]);
}

function edgeOf(wire: WireView, chosen: WireView | null, places: Places, heights: Map<string, number>): Edge {
  const [source, target] = [places[wire.source_card], places[wire.target_card]];
  const backward = source !== undefined && target !== undefined && source.x >= target.x;
  const bottom = (id: string) => (places[id]?.y ?? 0) + (heights.get(id) ?? 0);
  const colour = wire.looped ? ink.trouble : (tapColour[wire.zone as Tap] ?? ink.quiet);
  const mine = chosen !== null && idOf(chosen) === idOf(wire);
  return {
    id: idOf(wire),
    source: wire.source_card,
    target: wire.target_card,
    sourceHandle: wire.source,
    targetHandle: wire.target,
    ariaLabel: wire.text,
    type: backward ? "under" : "default",
    data: { bottom: Math.max(bottom(wire.source_card), bottom(wire.target_card)) },
    interactionWidth: 14,
    markerEnd: { type: MarkerType.Arrow, color: colour, width: 14, height: 14 },
    style: { stroke: colour, strokeWidth: mine ? 4 : wire.looped ? 2.6 : 1.5, strokeDasharray: wire.back ? "5 4" : undefined },
  };
}

/** A band behind each column, and its rank above everything. */
function Columns({ shown, places }: { shown: Shown; places: Record<string, unknown> | null }) {
  const { x, zoom } = useViewport();
  const columns = useMemo(() => [...new Set(shown.cards.map(({ column }) => column))].sort((a, b) => a - b), [shown.cards]);
  if (!places) return null;
  const width = columnWidth * zoom;
  const left = (n: number) => x + (n * columnWidth - (columnWidth - cardWidth) / 2) * zoom;
  const whole = { position: "absolute", left: 0, right: 0, top: 0, overflow: "hidden", pointerEvents: "none" } as const;
  return (
    <>
      <div aria-hidden style={{ ...whole, bottom: 0, zIndex: 0 }}>
        {columns.map((column, n) => <div key={column} style={{ position: "absolute", top: 0, bottom: 0, left: left(n), width, background: n % 2 ? "transparent" : `${ink.panel}BF` }} />)}
      </div>
      {zoom > 0.3 && (
        <div aria-hidden className="mono" style={{ ...whole, height: 34, zIndex: 4, background: `${ink.ground}E0`, fontSize: 11.5, color: ink.quiet }}>
          {columns.map((column, n) => <div key={column} style={{ position: "absolute", left: left(n), width, textAlign: "center", lineHeight: "34px", whiteSpace: "nowrap" }}>rank {column + 1}</div>)}
        </div>
      )}
    </>
  );
}

/** A read that goes back to an earlier column, or to its own card: round below the cards. */
function UnderEdge({ sourceX, sourceY, targetX, targetY, data, style, markerEnd, interactionWidth }: EdgeProps) {
  const low = Number(data?.["bottom"] ?? Math.max(sourceY, targetY)) + 16;
  const out = sourceX + 18;
  const back = targetX - 18;
  const path = `M ${String(sourceX)} ${String(sourceY)} C ${String(out)} ${String(sourceY)}, ${String(out)} ${String(low)}, ${String(sourceX - 8)} ${String(low)} L ${String(targetX + 8)} ${String(low)} C ${String(back)} ${String(low)}, ${String(back)} ${String(targetY)}, ${String(targetX)} ${String(targetY)}`;
  return <BaseEdge path={path} style={style ?? {}} {...(markerEnd ? { markerEnd } : {})} interactionWidth={interactionWidth ?? 14} />;
}
