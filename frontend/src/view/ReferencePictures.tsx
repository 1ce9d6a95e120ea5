import { useShallow } from "zustand/react/shallow";

import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { isSeen, mediumAt } from "../state/references";
import { ink } from "../shared/theme";

/** The pictures that are pinned to the present frame, at one of their two places. */
export function useReferencePictures(place: "beside" | "behind") {
  const all = useOpenScene((scene) => scene.header.references);
  return usePlayer(useShallow(({ frame }) => all.filter((one) => one.kind === "picture" && one.place === place && isSeen(one, frame))));
}

/** Pictures as large as the view, behind what it shows. */
export function PicturesBehind() {
  return useReferencePictures("behind").map(({ id, name, medium, opacity }) => (
    <img key={id} src={mediumAt(medium)} alt={name} style={{ position: "absolute", inset: 0, width: "100%", height: "100%", objectFit: "contain", opacity, pointerEvents: "none" }} />
  ));
}

/** Pictures in a corner of the view. */
export function PicturesBeside() {
  const shown = useReferencePictures("beside");
  if (!shown.length) return null;
  return (
    <div style={{ position: "absolute", right: 10, bottom: 10, display: "flex", flexDirection: "column", gap: 6, width: "26%", maxWidth: 320, maxHeight: "70%", pointerEvents: "none" }}>
      {shown.map(({ id, name, medium, opacity }) => (
        <img key={id} src={mediumAt(medium)} alt={name} style={{ minHeight: 0, objectFit: "contain", opacity, borderRadius: 4, border: `1px solid ${ink.line}` }} />
      ))}
    </div>
  );
}
