const forgets: (() => void)[] = [];
let entered = 0;

/** What is chosen, tried or looked at in one scene means nothing in another: `forget` runs when another
 * one is entered. Who comes back to the same scene finds it as it was left. */
export function perScene(forget: () => void) {
  forgets.push(forget);
}

export function enterScene(sceneId: number) {
  if (sceneId === entered) return;
  entered = sceneId;
  for (const forget of forgets) forget();
}
