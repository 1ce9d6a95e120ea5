import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import { get, Refused } from "../api/client";
import { queryClient } from "../api/queryClient";
import { isSending } from "./scene";
import { useOpenScene } from "./openScene";
import { useSamples } from "./samples";

const period = 500;
const old = "The server does not answer; what is shown may be old.";

/** Follows what is changed in other tabs and by others; says so when it cannot. Gives back whether the
 * scene is there no more. */
export function useFollow(sceneId: number): boolean {
  const { data, error } = useQuery({
    queryKey: ["revision", sceneId],
    queryFn: () => get<{ revision: number }>(`/api/scenes/${String(sceneId)}/revision`),
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
  const told = useRef<string | null>(null);
  useEffect(() => {
    const problem = error ? (error instanceof Refused ? error.text : old) : null;
    if (problem) useSamples.setState({ problem });
    else if (useSamples.getState().problem === told.current) useSamples.setState({ problem: null });
    told.current = problem;
  }, [error]);
  return error instanceof Refused && error.status === 404;
}
