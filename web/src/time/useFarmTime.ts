import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, client } from "../api/client";
import { useSignedIn } from "../session/context";
import { FarmTime } from "./farmTime";

/** The farm's clock; null while it is being asked for. */
export function useFarmTime(): FarmTime | null {
  const { farm } = useSignedIn();
  const slug = farm.slug;
  const clock = useQuery({
    queryKey: ["farm", slug, "clock"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/clock", { params: { path: { slug } } })),
  });
  const data = clock.data;
  return useMemo(() => (data ? new FarmTime(data.now, data.time_zone) : null), [data]);
}
