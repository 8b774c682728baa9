import { Box, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { DateLine } from "../form/DateLine";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { FormSheet } from "../form/FormSheet";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { localInput } from "../time/localInput";
import { asText, forForm, measure, typed, type UnitSystem } from "../units/format";
import { useSetDay, type DayValues, type WeatherDay } from "./queries";
import { celsius, temperature, temperatureUnit } from "./temperature";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

interface Props {
  day: WeatherDay | null;
  time: FarmTime;
  close: () => void;
}

const DEGREES = [
  ["t_min_c", t("weather.lowest")],
  ["t_max_c", t("weather.highest")],
  ["dew_c", t("weather.dewPoint")],
] as const;
const PLAIN = [
  ["rh_min", t("weather.lowestHumidity"), "%"],
  ["rh_max", t("weather.highestHumidity"), "%"],
  ["rh_mean", t("weather.meanHumidity"), "%"],
  ["solar_mj", t("weather.radiation"), "MJ/m²"],
  ["sunshine_h", t("weather.brightSunshine"), "h"],
  ["wind_m_s", t("weather.windAt2M"), "m/s"],
] as const;
const WATER = [
  ["rain_mm", t("weather.rain")],
  ["et0_mm", t("weather.grassEtIfKnown")],
] as const;

type Form = Partial<Record<keyof DayValues, string>>;

/** The day as it stands, in the person's units. */
function formOf(from: WeatherDay | null, units: UnitSystem): Form {
  if (!from) return {};
  const out: Form = {};
  for (const [key] of DEGREES) {
    out[key] = from[key] === null || from[key] === undefined ? "" : temperature(from[key], units);
  }
  for (const [key] of PLAIN) out[key] = asText(from[key]);
  out.rain_mm = forForm(from.rain_mm, units, "water");
  // An ET that was worked out is worked out again; one that was given stays.
  const workedOut = /^(Penman|Hargreaves)/.test(from.et_method);
  out.et0_mm = workedOut ? "" : forForm(from.et0_mm, units, "waterDay");
  return out;
}

/** A day's weather by hand; the reference ET is worked out from what is there. */
export function DaySheet({ day, time, close }: Props) {
  const { farm, units } = useSignedIn();
  const save = useSetDay(farm.slug);
  const [on, setOn] = useState(day?.date ?? localInput(time, time.at(-24)).slice(0, 10));
  const [form, setForm] = useState<Form>(() => formOf(day, units));
  const problems = problemsOf(save.error);

  function body(): DayValues {
    const out: DayValues = {};
    for (const [key] of DEGREES) out[key] = celsius(form[key] ?? "", units);
    for (const [key] of PLAIN) out[key] = typed(form[key] ?? "", "metric", "water");
    for (const [key] of WATER) out[key] = typed(form[key] ?? "", units, "water", day?.[key]);
    return out;
  }
  const line = (key: keyof DayValues, label: string, unit: string) => (
    <Line
      key={key}
      label={label}
      unit={unit}
      numeric
      value={form[key] ?? ""}
      change={(value) => setForm({ ...form, [key]: value })}
      error={problems[key]}
    />
  );
  return (
    <FormSheet
      title={
        day ? t("weather.weatherOf", { date: shownDay(day.date) }) : t("weather.weatherOfADay")
      }
      close={close}
      save={() => save.mutate({ on, body: body() }, { onSuccess: close })}
      words={t("weather.saveDay")}
      pending={save.isPending}
      size="lg"
    >
      {!day && (
        <Box w="170px" mb="3">
          <DateLine label={t("weather.day")} value={on} change={setOn} error={problems["date"]} />
        </Box>
      )}
      <Grid templateColumns={{ base: "1fr 1fr", md: "1fr 1fr 1fr" }} gap="3">
        {DEGREES.map(([key, label]) => line(key, label, temperatureUnit(units)))}
        {PLAIN.map(([key, label, unit]) => line(key, label, unit))}
        {WATER.map(([key, label]) => line(key, label, measure(units, "water").label))}
      </Grid>
      <Text fontSize="sm" color="inkSoft" mt="3">
        {t("weather.whatIsLeftEmptyBecomesUnknownIf")}
      </Text>
      {save.error && <Notice error={save.error} />}
    </FormSheet>
  );
}
