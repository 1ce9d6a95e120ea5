import { QueryClient } from "@tanstack/react-query";

import { passes } from "./client";

/** How often, in milliseconds, something that failed is tried again by itself. */
export const AGAIN = 1500;

/** For queries that go on by themselves once the server can work again. */
export function againWhenFailed(query: { state: { error: unknown } }): number | false {
  return query.state.error ? AGAIN : false;
}

/** The same for what a server that is away, or its database, let fail. */
function againWhenAway({ state: { error } }: { state: { error: unknown } }): number | false {
  return error !== null && passes(error) ? AGAIN : false;
}

// Bindu stands on this machine as a rule: whether there is a network beside it plays no part.
const networkMode = "always";

export const queryClient = new QueryClient({
  defaultOptions: { queries: { networkMode, retry: false, refetchInterval: againWhenAway, refetchOnWindowFocus: true }, mutations: { networkMode } },
});
