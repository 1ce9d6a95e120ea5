import ELK from "elkjs/lib/elk-api";
import workerUrl from "elkjs/lib/elk-worker.min.js?url";
import { useEffect, useState } from "react";

import type { Picture } from "./filter";

export const cardWidth = 164;
export const columnWidth = 208;
export const headHeight = 28;
export const portHeight = 20;

export type Places = Record<string, { x: number; y: number }>;

const elk = new ELK({ workerUrl });

/** From how many cards on the layout is quick rather than best. */
export const many = 150;

const best = {
  "elk.partitioning.activate": "true",
  "elk.layered.nodePlacement.strategy": "BRANDES_KOEPF",
};
const quick = {
  "elk.layered.layering.strategy": "LONGEST_PATH",
  "elk.layered.nodePlacement.strategy": "SIMPLE",
  "elk.layered.thoroughness": "1",
  "elk.layered.crossingMinimization.greedySwitch.type": "OFF",
};

export function cardHeight(ports: number): number {
  return headHeight + ports * portHeight + 6;
}

/** Where each card stands: its column by rank, its height by as few crossings as can be. The
 * work is done off the main thread; the last picture stays until it is done. */
export function useLayout(picture: Picture): Places | null {
  const [places, setPlaces] = useState<Places | null>(null);
  useEffect(() => {
    let late = false;
    // A big picture is shown at once in plain columns, until a better one has been found.
    if (picture.cards.length > many) setPlaces(stacked(picture));
    // Plain columns too where no better place is found.
    void placed(picture).catch(() => stacked(picture)).then((found) => { if (!late) setPlaces(found); });
    return () => { late = true; };
  }, [picture]);
  return places;
}

async function placed({ cards, wires }: Picture): Promise<Places> {
  const rank = ranksOf(cards);
  const forward = wires.filter((wire) => (rank.get(wire.source_card) ?? 0) < (rank.get(wire.target_card) ?? 0));
  const pairs = new Map(forward.map((wire) => [`${wire.source_card} ${wire.target_card}`, wire]));
  const graph = await elk.layout({
    id: "wiring",
    layoutOptions: {
      "elk.algorithm": "layered",
      "elk.direction": "RIGHT",
      "elk.spacing.nodeNode": "26",
      "elk.layered.spacing.nodeNodeBetweenLayers": "44",
      "elk.separateConnectedComponents": "false",
      ...(cards.length > many ? quick : best),
    },
    children: cards.map(({ id, ports }) => ({
      id,
      width: cardWidth,
      height: cardHeight(ports.length),
      layoutOptions: { "elk.partitioning.partition": String(rank.get(id) ?? 0) },
    })),
    edges: [...pairs.values()].map((wire, n) => ({ id: String(n), sources: [wire.source_card], targets: [wire.target_card] })),
  });
  const found: Places = {};
  for (const { id, y } of graph.children ?? []) {
    found[id] = { x: (rank.get(id) ?? 0) * columnWidth, y: y ?? 0 };
  }
  return apart(found, cards);
}

/** Each card's column, counted without those that are empty. */
function ranksOf(cards: Picture["cards"]): Map<string, number> {
  const columns = [...new Set(cards.map(({ column }) => column))].sort((a, b) => a - b);
  return new Map(cards.map(({ id, column }) => [id, columns.indexOf(column)]));
}

function stacked({ cards }: Picture): Places {
  const rank = ranksOf(cards);
  return apart(Object.fromEntries(cards.map(({ id }) => [id, { x: (rank.get(id) ?? 0) * columnWidth, y: 0 }])), cards);
}

/** Cards of one column that stand too close are moved apart: a column may be two of ELK's. */
function apart(places: Places, cards: Picture["cards"]): Places {
  const lowest = new Map<number, number>();
  const order = [...cards].sort((a, b) => (places[a.id]?.y ?? 0) - (places[b.id]?.y ?? 0));
  for (const { id, ports } of order) {
    const place = places[id];
    if (!place) continue;
    place.y = Math.max(place.y, lowest.get(place.x) ?? 0);
    lowest.set(place.x, place.y + cardHeight(ports.length) + 22);
  }
  return places;
}
