import { lazy, Suspense } from "react";

import { useGuide } from "../state/guide";

const Guide = lazy(async () => ({ default: (await import("./Guide")).Guide }));

/** The guide where it is open; it is fetched when it first is. */
export function GuideBeside() {
  const open = useGuide(({ chapter }) => chapter !== null);
  return open && <Suspense fallback={null}><Guide /></Suspense>;
}
