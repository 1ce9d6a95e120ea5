import { keepPreviousData, useQuery } from "@tanstack/react-query";

import type { BakesView } from "../api/client";
import { get } from "../api/client";
import { useOpenScene } from "../state/openScene";

/** All bakes, and how each stands to its source. */
export function useBakes() {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  return useQuery({
    queryKey: ["bakes", sceneId, revision],
    queryFn: () => get<BakesView>(`/api/scenes/${String(sceneId)}/bakes`),
    placeholderData: keepPreviousData,
    retry: false,
  });
}
