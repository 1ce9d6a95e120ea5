import type { ComponentType, ReactNode } from "react";
import { useLayoutEffect, useState } from "react";

/** A component whose code is fetched when it is first drawn, with `meanwhile` in its place until then; a
 * boundary around it gets a fetch that failed. It comes as soon as it is there, unlike with React's own
 * `lazy`, which leaves a placeholder standing for 300 ms. */
export function fetchedLater<Props extends object>(fetchIt: () => Promise<ComponentType<Props>>, meanwhile: ReactNode = null): ComponentType<Props> {
  let known: ComponentType<Props> | undefined;
  return function FetchedLater(props: Props) {
    const [came, setCame] = useState<{ Shown?: ComponentType<Props> | undefined; failed?: Error }>({ Shown: known });
    useLayoutEffect(() => {
      if (known) return;
      let left = false;
      void fetchIt().then(
        (Shown) => {
          known = Shown;
          if (!left) setCame({ Shown });
        },
        (failed: unknown) => { if (!left) setCame({ failed: failed instanceof Error ? failed : new Error(String(failed)) }); },
      );
      return () => { left = true; };
    }, []);
    if (came.failed) throw came.failed;
    return came.Shown ? <came.Shown {...props} /> : meanwhile;
  };
}
