import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { post } from "../api/client";
import type { WhatIfView, WhatIfWish } from "../state/order";
import { useOpenScene } from "../state/openScene";

/** Two ways to evaluate the open scene, side by side; nothing is saved. */
export function useWhatIf(wish: WhatIfWish | null): { data: WhatIfView | undefined; error: Error | null } {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  return useQuery({
    queryKey: ["what if", sceneId, revision, JSON.stringify(wish)],
    queryFn: () => post<WhatIfView>(`/api/scenes/${String(sceneId)}/what-if`, wish),
    enabled: wish !== null,
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
}
