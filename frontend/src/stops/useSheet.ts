import { keepPreviousData, useQuery } from "@tanstack/react-query";

import type { SheetView } from "../api/client";
import { post } from "../api/client";
import { useOpenScene } from "../state/openScene";
import { feed, useSamples } from "../state/samples";

/** A set over the range of its driver, with all that is tried; the last one stays until the next
 * has come. */
export function useSheet(driven: string, at: number): SheetView | undefined {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  // New samples mean that something else is tried.
  useSamples((samples) => samples.blocks);
  const trying = feed.allTried().filter((edit) => edit.do !== "change driven keys");
  const { data } = useQuery({
    queryKey: ["sheet", sceneId, driven, revision, at, JSON.stringify(trying)],
    queryFn: () => post<SheetView>(`/api/scenes/${String(sceneId)}/sheet`, { driven, at, trying }),
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  return data?.driven === driven ? data : undefined;
}
