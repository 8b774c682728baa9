import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type BlockLine = Schemas["BlockLine"];
export type BulkIn = Schemas["BulkIn"];

export function useBlockList(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "block-list"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/block-list", { params: { path: { slug } } })),
  });
}

export function useBulk(slug: string) {
  return useChange(slug, (body: BulkIn) =>
    answered(client.POST("/api/farms/{slug}/bulk", { params: { path: { slug } }, body })),
  );
}
