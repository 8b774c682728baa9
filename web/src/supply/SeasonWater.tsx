import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { figure, measure, number, withUnit } from "../units/format";
import { t } from "./t";

type Season = Schemas["SeasonWaterOut"];
type Source = Schemas["SourceSeason"];

function useSeasonWater(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "season-water"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/run-sheet/season", { params: { path: { slug } } })),
  });
}

/** The rest of the season of each source: by when to begin, and how its licence is best shared. */
export function SeasonWater() {
  const { farm } = useSignedIn();
  const found = useSeasonWater(farm.slug);
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (!found.data) return null;
  const { season } = found.data;
  return (
    <Box as="section" mt="6">
      <Heading as="h2" size="lg">
        {t("supply.restOfSeason")}
      </Heading>
      {season === null || season.sources.length === 0 ? (
        <Text fontSize="sm" color="inkSoft">
          {season === null
            ? t("supply.planFirst")
            : season.years === 0
              ? t("supply.tooLittleWeather")
              : t("supply.nothingLimits")}
        </Text>
      ) : (
        <>
          <Text fontSize="sm" color="inkSoft" maxW="80ch">
            {t("supply.seasonHelp", { years: season.years })}
          </Text>
          {season.sources.map((source) => (
            <SourcePart key={source.name} source={source} data={found.data} />
          ))}
        </>
      )}
    </Box>
  );
}

function SourcePart({ source, data }: { source: Source; data: Season }) {
  const { units } = useSignedIn();
  const names = new Map(data.blocks.map((b) => [b.id, b.name]));
  const { begin_by: begin, licence } = source;
  const volumes = ({ low, middle, high }: Schemas["OverYears"]) =>
    t("supply.range", {
      middle: withUnit(middle, units, "volume"),
      low: figure(low, units, "volume"),
      high: figure(high, units, "volume"),
    });
  return (
    <Box mt="3">
      <Heading as="h3" size="md">
        {source.name}
      </Heading>
      {begin && (
        <Text fontSize="sm" color={begin.on === null ? "rust" : undefined}>
          {begin.on === null
            ? t("supply.tooLate", { share: number(begin.kept * 100, 0) })
            : begin.beyond
              ? t("supply.noHurry", { on: shownDay(begin.on) })
              : t("supply.beginBy", {
                  on: shownDay(begin.on),
                  share: number(begin.kept * 100, 0),
                })}{" "}
          {begin.never.length > 0 &&
            t("supply.neverKept", {
              blocks: begin.never.flatMap((b) => names.get(b) ?? []).join(", "),
            })}
        </Text>
      )}
      {licence && (
        <>
          <Text fontSize="sm">
            {t("supply.licenceLeft", {
              left: withUnit(licence.left_m3, units, "volume"),
              need: volumes(licence.need_m3),
              unused: volumes(licence.unused_m3),
            })}{" "}
            {licence.worth_1000_m3 > 0
              ? t("supply.moreIsWorth", {
                  volume: withUnit(1000, units, "volume"),
                  money: `${number(licence.worth_1000_m3, 0)} ${data.currency}`.trim(),
                })
              : t("supply.enoughLeft")}
          </Text>
          <Table.ScrollArea tabIndex={0} maxW="760px">
            <Table.Root size="sm" bg="transparent">
              <Table.Header>
                <Table.Row bg="transparent">
                  <Table.ColumnHeader px="0">{t("supply.block")}</Table.ColumnHeader>
                  <Table.ColumnHeader textAlign="end">{t("supply.needs")}</Table.ColumnHeader>
                  <Table.ColumnHeader textAlign="end">{t("supply.isGiven")}</Table.ColumnHeader>
                  <Table.ColumnHeader textAlign="end">{t("supply.lacks")}</Table.ColumnHeader>
                  <Table.ColumnHeader textAlign="end">
                    {t("supply.worthOf", {
                      depth: `${figure(10, units, "water")} ${measure(units, "water").label}`,
                    })}
                  </Table.ColumnHeader>
                </Table.Row>
              </Table.Header>
              <Table.Body>
                {licence.shares.map((s) => (
                  <Table.Row key={s.block_id} bg="transparent">
                    <Table.Cell px="0">{names.get(s.block_id)}</Table.Cell>
                    <Table.Cell textAlign="end">{withUnit(s.need_mm, units, "water")}</Table.Cell>
                    <Table.Cell textAlign="end">{withUnit(s.given_mm, units, "water")}</Table.Cell>
                    <Table.Cell textAlign="end" color={s.lacking_mm >= 1 ? "rust" : undefined}>
                      {withUnit(s.lacking_mm, units, "water")}
                    </Table.Cell>
                    <Table.Cell textAlign="end">
                      {number(s.worth_10_mm, 0)} {data.currency}
                    </Table.Cell>
                  </Table.Row>
                ))}
              </Table.Body>
            </Table.Root>
          </Table.ScrollArea>
        </>
      )}
    </Box>
  );
}
