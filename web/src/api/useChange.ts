import { useMutation, useQueryClient } from "@tanstack/react-query";
import { refreshFarm } from "./farmQueries";

/** Something that changes the farm; every answer of it is fetched anew afterwards. */
export function useChange<T, R>(slug: string, change: (body: T) => Promise<R>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: change, onSuccess: () => refreshFarm(queries, slug) });
}
