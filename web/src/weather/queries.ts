import { useMutation, useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type WeatherData = Schemas["WeatherOut"];
export type WeatherDay = Schemas["WeatherDayOut"];
export type DayValues = Schemas["DayValues"];
export type StationPlace = Schemas["StationPlace"];
export type StationFile = Schemas["StationFileOut"];

export function useWeather(slug: string, days: number) {
  return useQuery({
    queryKey: ["farm", slug, "weather", days],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/weather", { params: { path: { slug }, query: { days } } }),
      ),
  });
}

export function useSetDay(slug: string) {
  return useChange(slug, ({ on, body }: { on: string; body: DayValues }) =>
    answered(
      client.PUT("/api/farms/{slug}/weather/{on}", { params: { path: { slug, on } }, body }),
    ),
  );
}

export function useSetStation(slug: string) {
  return useChange(slug, (body: StationPlace) =>
    answered(client.PUT("/api/farms/{slug}/station", { params: { path: { slug } }, body })),
  );
}

export type Stamp = Schemas["Stamp"];

interface SheetOfHours {
  file: File;
  /** What the times of a sheet of hours mark. */
  stamp: Stamp;
}

function send(slug: string, { file, stamp }: SheetOfHours, dryRun: boolean) {
  const form = new FormData();
  form.append("file", file);
  form.append("stamp", stamp);
  form.append("dry_run", String(dryRun));
  return answered(
    client.POST("/api/farms/{slug}/weather-file", {
      params: { path: { slug } },
      body: form as never,
      bodySerializer: (body) => body as unknown as FormData,
    }),
  );
}

/** What a station's sheet would bring; nothing is stored. */
export function useCheckSheet(slug: string) {
  return useMutation({ mutationFn: (sheet: SheetOfHours) => send(slug, sheet, true) });
}

export function useStoreSheet(slug: string) {
  return useChange(slug, (sheet: SheetOfHours) => send(slug, sheet, false));
}
