import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { postForBinary } from "../../api/client";
import type { Pose } from "../../view/Poses";
import { useOpenScene } from "../../state/openScene";
import { unpacked } from "../../state/samples";
import type { Side } from "./sides";

const wants = ["world matrix", "seen"].map((quantity) => ({ part: "*", quantity, stage: "final" }));

/** Where all parts are on one side of a comparison, over the range. */
export function usePose(side: Side): Pose | undefined {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const { data } = useQuery({
    queryKey: ["pose of a side", sceneId, revision, JSON.stringify(side)],
    queryFn: async () => unpacked(await postForBinary(`/api/scenes/${String(sceneId)}/what-if/samples`, { side, wants })),
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
  });
  return data;
}
