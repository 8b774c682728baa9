import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { number, waterShort, withUnit, type UnitSystem } from "../units/format";
import { useRiceSeason, type RiceSeason } from "./queries";
import { t } from "./t";
import { levelWords } from "./words";

/** The season's water and dryings, and what was saved against keeping the field ponded. */
export function SeasonWater({ block }: { block: number }) {
  const { farm, units } = useSignedIn();
  const found = useRiceSeason(farm.slug, block);
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (found.isPending) return <Loading what={t("rice.loadingSeason")} />;
  const season = found.data.season;
  return (
    <Box as="section" mt="6" aria-labelledby="rice-season">
      <Heading as="h2" id="rice-season" size="lg">
        {t("rice.season")}
      </Heading>
      {season ? <Told season={season} units={units} /> : <Text>{t("rice.noSeason")}</Text>}
    </Box>
  );
}

function Told({ season, units }: { season: RiceSeason; units: UnitSystem }) {
  const { low, middle, high } = season.saved;
  return (
    <>
      <Text mt="1">
        {t("rice.used", {
          first: shownDay(season.first),
          last: shownDay(season.last),
          depth: waterShort(season.given_mm, units),
          volume: withUnit(season.given_m3, units, "volume"),
          rain: waterShort(season.rain_mm, units),
        })}{" "}
        <b>
          {middle >= 0
            ? t("rice.saved", {
                middle: percent(middle),
                low: percent(low),
                high: percent(high),
              })
            : t("rice.usedMore", {
                middle: percent(-middle),
                low: percent(-high),
                high: percent(-low),
              })}
        </b>{" "}
        {t("rice.pondedWould", { depth: waterShort(season.continuous_mm, units) })}
        {season.unread_days > 0 && ` ${t("rice.unread", { days: season.unread_days })}`}
      </Text>
      {season.dryings.length > 0 && (
        <Table.Root size="sm" bg="transparent" mt="2" aria-label={t("rice.dryings")}>
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("rice.drying")}</Table.ColumnHeader>
              <Table.ColumnHeader px="0">{t("rice.floodedAgain")}</Table.ColumnHeader>
              <Table.ColumnHeader px="0" textAlign="end">
                {t("rice.deepestRead")}
              </Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {season.dryings.map((d) => (
              <Table.Row key={d.began_on} bg="transparent">
                <Table.Cell px="0">{shownDay(d.began_on)}</Table.Cell>
                <Table.Cell px="0">
                  {d.ended_on ? shownDay(d.ended_on) : t("rice.goesOn")}
                </Table.Cell>
                <Table.Cell px="0" textAlign="end">
                  {levelWords(d.deepest_mm, units)}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      )}
      <Text fontSize="sm" color="inkSoft" mt="2">
        {t("rice.reasonsToDry")}
      </Text>
    </>
  );
}

const percent = (share: number) => number(share * 100, 0).replace("-", "−");
