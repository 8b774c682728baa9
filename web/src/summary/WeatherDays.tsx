import { Table, Text } from "@chakra-ui/react";
import { t } from "./t";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, number } from "../units/format";
import type { Summary } from "./queries";

/** Yesterday as recorded, today and the next days as forecast. */
export function WeatherDays({ days, time }: { days: Summary["weather"]; time: FarmTime }) {
  const { units } = useSignedIn();
  if (days.length === 0)
    return <Text color="inkSoft">{t("summary.noWeatherIsRecordedAndThereIs")}</Text>;
  return (
    <Table.Root size="sm" bg="transparent" maxW="620px">
      <Table.Header>
        <Table.Row bg="transparent">
          <Table.ColumnHeader px="0">{t("summary.day")}</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">
            {t("summary.grassEt", { unit: measure(units, "waterDay").label })}
          </Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">
            {t("summary.rain", { unit: measure(units, "water").label })}
          </Table.ColumnHeader>
          <Table.ColumnHeader px="0" textAlign="end">
            {t("summary.chanceOfRain")}
          </Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {days.map((day) => {
          const noon = new Date(`${day.on}T12:00:00Z`);
          return (
            <Table.Row key={day.on} bg="transparent">
              <Table.Cell px="0">
                {time.weekday(noon)} {time.date(noon)}
                <Text as="span" color="inkSoft" fontSize="sm">
                  {" "}
                  {day.recorded ? t("summary.recorded") : t("summary.forecast")}
                </Text>
              </Table.Cell>
              <Table.Cell textAlign="end">{figure(day.et0_mm, units, "waterDay")}</Table.Cell>
              <Table.Cell textAlign="end">{figure(day.rain_mm, units, "water")}</Table.Cell>
              <Table.Cell px="0" textAlign="end">
                {day.rain_chance === null ? "" : `${number(day.rain_chance * 100, 0)} %`}
              </Table.Cell>
            </Table.Row>
          );
        })}
      </Table.Body>
    </Table.Root>
  );
}
