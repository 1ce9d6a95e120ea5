import type { ComponentType, ReactNode } from "react";
import { useEffect, useLayoutEffect, useState } from "react";

import { AGAIN } from "../api/queryClient";
import { ink } from "./theme";

const unsent = <p role="status" style={{ margin: 40, color: ink.trouble }}>This part of the page was not sent. Trying again by itself; if it does not come, load the page again.</p>;

/** A component whose code is fetched when it is first drawn, with `meanwhile` in its place until then, and
 * `away` while the server does not send it. It comes as soon as it is there, unlike with React's own `lazy`,
 * which leaves a placeholder standing for 300 ms and takes the page down where nothing was sent. */
export function fetchedLater<Props extends object>(fetchIt: () => Promise<ComponentType<Props>>, meanwhile: ReactNode = null, away: ReactNode = unsent): ComponentType<Props> {
  let known: ComponentType<Props> | undefined;
  return function FetchedLater(props: Props) {
    const [Shown, show] = useState(() => known);
    const [failed, setFailed] = useState(0);
    const [tries, setTries] = useState(0);
    useLayoutEffect(() => {
      if (known) return;
      let left = false;
      void fetchIt().then(
        (found) => {
          known = found;
          if (!left) show(() => found);
        },
        () => { if (!left) setFailed(tries + 1); },
      );
      return () => { left = true; };
    }, [tries]);
    useEffect(() => {
      if (!failed) return;
      const timer = setTimeout(() => { setTries(failed); }, AGAIN);
      return () => { clearTimeout(timer); };
    }, [failed]);
    if (Shown) return <Shown {...props} />;
    return failed ? away : meanwhile;
  };
}
