import { Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { lazy, Suspense, useMemo, useState } from "react";
import { LinkButton } from "../app/LinkButton";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { DaysBack } from "../form/DaysBack";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { figure, measure, number } from "../units/format";
import { Ahead } from "./Ahead";
import { useWeather, type WeatherData, type WeatherDay } from "./queries";
import { temperature, temperatureUnit } from "./temperature";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

const DaySheet = lazy(() => import("./DaySheet").then((found) => ({ default: found.DaySheet })));
const SheetImport = lazy(() =>
  import("./SheetImport").then((found) => ({ default: found.SheetImport })),
);
const StationSheet = lazy(() =>
  import("./StationSheet").then((found) => ({ default: found.StationSheet })),
);

const STRETCHES = [30, 90, 200];

/** The weather on record and ahead; entered by hand or brought in from a station's sheet. */
export function WeatherPage() {
  const { farm } = useSignedIn();
  const [days, setDays] = useState(30);
  const weather = useWeather(farm.slug, days);
  if (weather.isPending) return <Loading what={t("weather.loadingTheWeather")} />;
  if (weather.error) return <Notice error={weather.error} retry={() => void weather.refetch()} />;
  return <Weather weather={weather.data} days={days} setDays={setDays} />;
}

interface Props {
  weather: WeatherData;
  days: number;
  setDays: (days: number) => void;
}

type Asked = "file" | "station" | { day: WeatherDay | null } | null;

function Weather({ weather, days, setDays }: Props) {
  const { may, units } = useSignedIn();
  const [asked, setAsked] = useState<Asked>(null);
  const time = useMemo(() => new FarmTime(weather.now, weather.time_zone), [weather]);
  const { station } = weather;
  const edits = may("record_weather");
  const close = () => setAsked(null);
  return (
    <>
      <Ahead weather={weather} time={time} />
      <Flex gap="3" align="center" wrap="wrap" mt="6" mb="2">
        <Heading as="h2" size="lg">
          {t("weather.recorded")}
        </Heading>
        <DaysBack choices={STRETCHES} days={days} change={setDays} />
        {edits && (
          <>
            <Button size="xs" variant="outline" onClick={() => setAsked("file")}>
              {t("weather.importStationData")}
            </Button>
            <Button size="xs" variant="outline" onClick={() => setAsked({ day: null })}>
              {t("weather.enterADay")}
            </Button>
            <Button size="xs" variant="outline" onClick={() => setAsked("station")}>
              {station.latitude === null || station.latitude === undefined
                ? t("weather.enterThePositionOfTheStation")
                : t("weather.stationAt", {
                    latitude: number(station.latitude, 2),
                    longitude: number(station.longitude, 2),
                  })}
            </Button>
          </>
        )}
      </Flex>
      {weather.days.length === 0 ? (
        <Text color="inkSoft">{t("weather.noWeatherIsRecordedImportStationData")}</Text>
      ) : (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("weather.day")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end" whiteSpace="nowrap">
                  {t("weather.grassEt", { label: measure(units, "waterDay").label })}
                </Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end" whiteSpace="nowrap">
                  {t("weather.rain3", { label: measure(units, "water").label })}
                </Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end" whiteSpace="nowrap">
                  {t("weather.lowest2", { temperatureUnit: temperatureUnit(units) })}
                </Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end" whiteSpace="nowrap">
                  {t("weather.highest")}
                </Table.ColumnHeader>
                <Table.ColumnHeader>{t("weather.howEtWasCalculated")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("weather.from")}</Table.ColumnHeader>
                {edits && <Table.ColumnHeader px="0" />}
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {weather.days.map((d) => (
                <Table.Row key={d.date} bg="transparent">
                  <Table.Cell px="0" whiteSpace="nowrap">
                    {time.weekday(new Date(`${d.date}T12:00:00Z`))}{" "}
                    {time.date(new Date(`${d.date}T12:00:00Z`))}
                  </Table.Cell>
                  <Table.Cell textAlign="end">{figure(d.et0_mm, units, "waterDay")}</Table.Cell>
                  <Table.Cell textAlign="end" fontWeight={d.rain_mm ? "700" : "400"}>
                    {figure(d.rain_mm, units, "water")}
                  </Table.Cell>
                  <Table.Cell textAlign="end">{temperature(d.t_min_c, units)}</Table.Cell>
                  <Table.Cell textAlign="end">{temperature(d.t_max_c, units)}</Table.Cell>
                  <Table.Cell color="inkSoft" fontSize="sm">
                    {d.et_method || "–"}
                  </Table.Cell>
                  <Table.Cell color="inkSoft" fontSize="sm">
                    {d.source}
                  </Table.Cell>
                  {edits && (
                    <Table.Cell px="0" textAlign="end">
                      <LinkButton
                        aria-label={t("weather.change2", { date: shownDay(d.date) })}
                        onClick={() => setAsked({ day: d })}
                      >
                        {t("weather.change")}
                      </LinkButton>
                    </Table.Cell>
                  )}
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      <Suspense fallback={null}>
        {asked === "file" && <SheetImport close={close} />}
        {asked === "station" && <StationSheet station={station} close={close} />}
        {asked !== null && typeof asked === "object" && (
          <DaySheet day={asked.day} time={time} close={close} />
        )}
      </Suspense>
    </>
  );
}
