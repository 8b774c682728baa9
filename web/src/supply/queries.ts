import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type Supply = Schemas["NetworkOut"];
export type Network = Schemas["NetworkDocument"];
export type SourcePart = Schemas["SourcePart"];
export type TariffPart = Schemas["TariffPart"];
export type ConnectionPart = Schemas["ConnectionPart"];
export type SuppliedBlock = Schemas["SuppliedBlock"];
export type Remark = Schemas["RemarkOut"];

const key = (slug: string) => ["farm", slug, "supply"];

export function useSupply(slug: string) {
  return useQuery({
    queryKey: key(slug),
    queryFn: () => answered(client.GET("/api/farms/{slug}/supply", { params: { path: { slug } } })),
  });
}

/** Describes the whole of it anew. */
export function useChangeSupply(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["NetworkIn"]) =>
      answered(client.PUT("/api/farms/{slug}/supply", { params: { path: { slug } }, body })),
    onSuccess: async (found) => {
      queries.setQueryData(key(slug), found);
      // A source renamed is another supply of its blocks.
      await queries.invalidateQueries({ queryKey: ["farm", slug] });
    },
  });
}

/** What the description would be with the rows of a file in it; nothing is saved. */
export function useReadSupply(slug: string) {
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.set("file", file);
      return answered(
        client.POST("/api/farms/{slug}/supply/import", {
          params: { path: { slug } },
          body: { file: file.name },
          bodySerializer: () => form,
        }),
      );
    },
  });
}
