import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { post } from "../api/client";
import type { WhatIfView, WhatIfWish } from "../state/order";
import { useOpenScene } from "../state/openScene";

/** Two ways to evaluate the open scene, side by side; nothing is saved. `late`: what is there still is of
 * the wish before. */
export function useWhatIf(wish: WhatIfWish | null): { data: WhatIfView | undefined; late: boolean; error: Error | null } {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const { data, isPlaceholderData, error } = useQuery({
    queryKey: ["what if", sceneId, revision, JSON.stringify(wish)],
    queryFn: () => post<WhatIfView>(`/api/scenes/${String(sceneId)}/what-if`, wish),
    enabled: wish !== null,
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  return { data, late: isPlaceholderData, error };
}
