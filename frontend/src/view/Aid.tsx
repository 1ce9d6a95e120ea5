import type { ReactNode } from "react";
import type { Object3D } from "three";

const mark = { aid: true };

/** What is drawn to work by, such as handles and ways: the scene's picture leaves it out. */
export function Aid({ children }: { children: ReactNode }) {
  return <group userData={mark}>{children}</group>;
}

/** Does some drawing without what is there to work by, and gives back what it made. */
export function withoutAids<T>(scene: Object3D, draw: () => T): T {
  const hidden: Object3D[] = [];
  scene.traverse((one) => {
    if (one.userData["aid"] === true && one.visible) hidden.push(one);
  });
  for (const one of hidden) one.visible = false;
  const made = draw();
  for (const one of hidden) one.visible = true;
  return made;
}
