import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type Person = Schemas["PersonRef"];

/** Who belongs to the farm. */
export function usePeople(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "people"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/people", { params: { path: { slug } } })),
  });
}

export function useAddPerson(slug: string) {
  return useChange(slug, (body: Schemas["PersonIn"]) =>
    answered(client.POST("/api/farms/{slug}/people", { params: { path: { slug } }, body })),
  );
}

export function useChangeRole(slug: string) {
  return useChange(slug, ({ person, role }: { person: number; role: Schemas["Role"] }) =>
    answered(
      client.PATCH("/api/farms/{slug}/people/{person_id}", {
        params: { path: { slug, person_id: person } },
        body: { role },
      }),
    ),
  );
}

export function useRemovePerson(slug: string) {
  return useChange(slug, (person: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/people/{person_id}", {
        params: { path: { slug, person_id: person } },
      }),
    ),
  );
}

export function useRenewInvitation(slug: string) {
  return useChange(slug, (person: number) =>
    answered(
      client.POST("/api/farms/{slug}/people/{person_id}/invitation", {
        params: { path: { slug, person_id: person } },
      }),
    ),
  );
}
