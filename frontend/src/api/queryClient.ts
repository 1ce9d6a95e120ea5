import { QueryClient } from "@tanstack/react-query";

/** How often, in milliseconds, something that failed is tried again by itself. */
export const AGAIN = 1500;

/** For queries that go on by themselves once the server can work again. */
export function againWhenFailed(query: { state: { error: unknown } }): number | false {
  return query.state.error ? AGAIN : false;
}

export const queryClient = new QueryClient({
  defaultOptions: { queries: { retry: false, refetchOnWindowFocus: true } },
});
