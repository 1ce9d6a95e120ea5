import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { useOpenScene } from "./openScene";
import { get } from "../api/client";
import type { components } from "../api/schema";

type Schemas = components["schemas"];
export type LanesView = Schemas["LanesView"];
export type LaneView = Schemas["LaneView"];
export type HandoverView = Schemas["HandoverView"];
export type WiringView = Schemas["WiringView"];
export type CardView = Schemas["Card"];
export type PortView = Schemas["Port"];
export type WireView = Schemas["Wire"];
export type LoopsView = Schemas["LoopsView"];
export type LoopView = Schemas["LoopView"];
export type RemedyView = Schemas["RemedyView"];
export type OrderView = Schemas["OrderView"];
export type WordsView = Schemas["WordsView"];
export type CausesView = Schemas["CausesView"];
export type WhatIfView = Schemas["WhatIfView"];
export type WhatIfWish = Schemas["WhatIfWish"];

/** Something about the open scene as it is now; what was there before stays until it has come. */
export function useAbout<T>(what: string, query = ""): { data: T | undefined; error: Error | null } {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  return useQuery({
    queryKey: ["about", sceneId, what, query, revision],
    queryFn: () => get<T>(`/api/scenes/${String(sceneId)}/${what}${query}`),
    placeholderData: keepPreviousData,
    gcTime: 0,
    staleTime: Infinity,
  });
}
