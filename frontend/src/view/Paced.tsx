import { addAfterEffect, useThree } from "@react-three/fiber";
import { useEffect } from "react";

import { feed, useSamples } from "../state/samples";
import { paced } from "./pace";
import { withPlainLines } from "./plainLines";

/** In which share of its resolution the view draws lightly. */
const coarse = 0.5;

/** Lets the view draw when its turn has come, so that curves, numbers and the ledger never wait for it. */
export function Paced() {
  const set = useThree((three) => three.set);
  const get = useThree((three) => three.get);
  useEffect(() => {
    const { invalidate, gl, scene, setDpr, viewport } = get();
    let wideAgain: (() => void) | null = null;
    const pace = paced({
      draw: () => { invalidate(); },
      lighten: (light) => {
        gl.domElement.toggleAttribute("data-light", light);
        setDpr(light ? viewport.dpr * coarse : viewport.dpr);
        wideAgain?.();
        wideAgain = light ? withPlainLines(scene) : null;
      },
      shares: () => useSamples.getState().trying,
      rests: (wait) => { feed.letViewRest(wait); },
      now: () => performance.now(),
      later: afterCurves,
    });
    set({ invalidate: pace.want });
    // What is sent while a frame is drawn comes when it has been painted.
    const painted = new MessageChannel();
    let began = 0;
    painted.port1.onmessage = () => { pace.drawn(performance.now() - began); };
    const unwatch = addAfterEffect(() => {
      began = performance.now();
      painted.port2.postMessage(0);
    });
    const take = () => { pace.hold(true); };
    const leave = () => { pace.hold(false); };
    gl.domElement.addEventListener("pointerdown", take, true);
    window.addEventListener("pointerup", leave, true);
    window.addEventListener("pointercancel", leave, true);
    return () => {
      pace.stop();
      unwatch();
      painted.port1.close();
      wideAgain?.();
      gl.domElement.removeEventListener("pointerdown", take, true);
      window.removeEventListener("pointerup", leave, true);
      window.removeEventListener("pointercancel", leave, true);
      set({ invalidate });
    };
  }, [set, get]);
  return null;
}

/** After a while, and after what else has to be painted then. */
function afterCurves(work: () => void, wait: number): () => void {
  let frame = 0;
  const timer = setTimeout(() => { frame = requestAnimationFrame(work); }, wait);
  return () => {
    clearTimeout(timer);
    cancelAnimationFrame(frame);
  };
}
