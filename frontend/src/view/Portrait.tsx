import { useThree } from "@react-three/fiber";
import { useEffect } from "react";

import { putPicture } from "../state/picture";
import { useOpenScene } from "../state/openScene";
import { withoutAids } from "./Aid";
import { useAllPlaced } from "./world";

const size = { width: 256, height: 160 };
/** How long the hand has been still when the picture is made, milliseconds. */
const still = 2500;

/** Makes the scene's picture for the home page, a while after it was opened or edited. */
export function Portrait() {
  const { gl, scene, camera } = useThree();
  const sceneId = useOpenScene((open) => open.sceneId);
  const revision = useOpenScene((open) => open.header.revision);
  const ready = useAllPlaced();
  useEffect(() => {
    if (!ready) return undefined;
    const timer = window.setTimeout(() => {
      const small = withoutAids(scene, () => {
        gl.render(scene, camera);
        return smaller(gl.domElement);
      });
      // What is looked at never goes without them.
      gl.render(scene, camera);
      small?.toBlob((image) => { if (image) void putPicture(sceneId, revision, image); }, "image/webp", 0.85);
    }, still);
    return () => { window.clearTimeout(timer); };
  }, [gl, scene, camera, sceneId, revision, ready]);
  return null;
}

/** The middle of a drawing, small. */
function smaller(drawing: HTMLCanvasElement): HTMLCanvasElement | null {
  const made = document.createElement("canvas");
  Object.assign(made, size);
  const by = Math.min(drawing.width / size.width, drawing.height / size.height);
  const [width, height] = [size.width * by, size.height * by];
  const paper = made.getContext("2d");
  paper?.drawImage(drawing, (drawing.width - width) / 2, (drawing.height - height) / 2, width, height, 0, 0, size.width, size.height);
  return paper ? made : null;
}
