import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type WhatIfIn = Schemas["WhatIfIn"];
export type WhatIfOut = Schemas["WhatIfOut"];

/** The block's answer if things were as said; the one before stays until the next is there. */
export function useWhatIf(slug: string, block: number, body: WhatIfIn) {
  return useQuery({
    queryKey: ["farm", slug, "block", block, "what-if", body],
    queryFn: ({ signal }) =>
      answered(
        client.POST("/api/farms/{slug}/blocks/{block_id}/what-if", {
          params: { path: { slug, block_id: block } },
          body,
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: 30_000,
    gcTime: 30_000,
  });
}
