import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type Morning = Schemas["TellingOut"];
export type Summary = Schemas["SummaryOut"];
export type SummaryLine = Schemas["SummaryLine"];

export function useMorning(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "morning"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/today", { params: { path: { slug } } })),
  });
}

export function useMorningMail(slug: string) {
  return useChange(slug, (morning_mail: boolean) =>
    answered(
      client.PUT("/api/farms/{slug}/today/mail", {
        params: { path: { slug } },
        body: { morning_mail },
      }),
    ),
  );
}

export function useNewCalendar(slug: string) {
  return useChange(slug, () =>
    answered(client.POST("/api/farms/{slug}/calendar", { params: { path: { slug } } })),
  );
}

export function useEndCalendar(slug: string) {
  return useChange(slug, () =>
    answered(client.DELETE("/api/farms/{slug}/calendar", { params: { path: { slug } } })),
  );
}
