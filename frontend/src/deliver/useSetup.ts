import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";

import type { ReceiverView, Setup } from "../api/client";
import { get } from "../api/client";
import { useOpenScene } from "../state/openScene";
import { useEdit } from "../state/useEdit";
import { takeSetup, useReceiver } from "./receiver";

/** Changes that are sent and not answered yet: until then what is shown is newer than what is stored. */
let waiting = 0;

/** Keeps the receiver's setup as the scene has it. */
export function useStoredSetup() {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const { data } = useQuery({
    queryKey: ["receiver", sceneId, revision],
    queryFn: () => get<ReceiverView>(`/api/scenes/${String(sceneId)}/receiver`),
    retry: false,
  });
  useEffect(() => {
    if (data && !waiting && JSON.stringify(data.setup) !== JSON.stringify(useReceiver.getState().setup)) takeSetup(data.setup);
  }, [data]);
}

/** Changes some of the receiver's setup: shown at once, and stored as an edit. */
export function useChangeSetup() {
  const edit = useEdit();
  return useCallback(
    async (change: Partial<Setup>): Promise<boolean> => {
      const { setup: before } = useReceiver.getState();
      const setup = { ...before, ...change };
      takeSetup(setup);
      waiting += 1;
      const stored = await edit({ do: "put receiver", setup });
      waiting -= 1;
      if (!stored && useReceiver.getState().setup === setup) takeSetup(before);
      return stored;
    },
    [edit],
  );
}
