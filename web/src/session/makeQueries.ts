import { QueryCache, QueryClient } from "@tanstack/react-query";
import { Refusal } from "../api/client";
import { retry, retryDelay } from "../api/retry";
import { SESSION } from "./queries";

const NOT_SIGNED_IN = 401;

/** Everything asked of the server, and asked again. A page that can't be opened because its session
 * has ended asks who is signed in, and so comes to the sign-in; one that is open already keeps what
 * was typed in it. */
export function makeQueries(): QueryClient {
  const queries: QueryClient = new QueryClient({
    queryCache: new QueryCache({
      onError: (error, query) => {
        const ended = error instanceof Refusal && error.status === NOT_SIGNED_IN;
        if (ended && query.state.data === undefined)
          void queries.invalidateQueries({ queryKey: SESSION });
      },
    }),
    defaultOptions: { queries: { staleTime: 60_000, retry, retryDelay } },
  });
  return queries;
}
