import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { runningTime, withUnit } from "../units/format";
import { useRiceFields } from "./queries";
import { t } from "./t";
import { levelWords } from "./words";

/** The rice fields on the supply of this one, side by side, those due first on top. */
export function SameSupply({ block, time }: { block: number; time: FarmTime }) {
  const { farm, units } = useSignedIn();
  const found = useRiceFields(farm.slug);
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  const own = found.data?.find((s) => s.fields.some((f) => f.block_id === block));
  if (!own || own.fields.length < 2) return null;
  return (
    <Box as="section" mt="6" aria-labelledby="same-supply">
      <Heading as="h2" id="same-supply" size="lg">
        {t("rice.sameSupply", { supply: own.supply || t("rice.noSupply") })}
      </Heading>
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent" mt="1">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("rice.field")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("rice.level")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("rice.nextFlooding")}</Table.ColumnHeader>
              <Table.ColumnHeader px="0" textAlign="end">
                {t("rice.water")}
              </Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {own.fields.map((f) => (
              <Table.Row key={f.block_id} bg="transparent">
                <Table.Cell px="0">
                  {f.block_id === block ? (
                    <b>{f.block}</b>
                  ) : (
                    <Link to={`/${farm.slug}/blocks/${f.block_id}`}>{f.block}</Link>
                  )}
                </Table.Cell>
                <Table.Cell>
                  {f.level_mm === null ? t("rice.unknown") : levelWords(f.level_mm, units)}
                </Table.Cell>
                <Table.Cell>
                  {f.start_at === null
                    ? t("rice.notInSight")
                    : `${time.day(new Date(f.start_at))} ${time.clock(new Date(f.start_at))}`}
                </Table.Cell>
                <Table.Cell px="0" textAlign="end">
                  {f.hours === null
                    ? ""
                    : `${runningTime(f.hours)} · ${withUnit(f.volume_m3, units, "volume")}`}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/irrigation/run-sheet`}>{t("rice.shareTurns")}</Link>
      </Text>
    </Box>
  );
}
