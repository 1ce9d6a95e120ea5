import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";

import { get } from "../api/client";
import { queryClient } from "../api/queryClient";
import { isSending } from "../api/scene";
import { useOpenScene } from "../state/openScene";
import { useSamples } from "../state/samples";

const period = 500;
const old = "The server does not answer; what is shown may be old.";

/** Follows what is changed in other tabs and by others; says so when it cannot. */
export function useFollow(sceneId: number, ready: boolean) {
  const { data, failureCount } = useQuery({
    queryKey: ["revision", sceneId],
    queryFn: () => get<{ revision: number }>(`/api/scenes/${String(sceneId)}/revision`),
    enabled: ready,
    refetchInterval: period,
    refetchIntervalInBackground: true,
    retry: false,
    gcTime: 0,
  });
  const revision = data?.revision;
  useEffect(() => {
    const here = useOpenScene.getState().header.revision;
    if (revision !== undefined && revision > here && !isSending()) {
      void queryClient.invalidateQueries({ queryKey: ["scene", sceneId] });
    }
  }, [revision, sceneId]);
  useEffect(() => {
    if (failureCount > 0) useSamples.setState({ problem: old });
    else if (useSamples.getState().problem === old) useSamples.setState({ problem: null });
  }, [failureCount]);
}
