import { Grid, Table, Text } from "@chakra-ui/react";
import { t } from "./t";
import { useSignedIn } from "../session/context";
import { runningTime, withUnit } from "../units/format";
import type { Summary } from "./queries";

/** Hours and water of today's irrigation, by water supply and by irrigator. */
export function Totals({ summary }: { summary: Summary }) {
  return (
    <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} columnGap="8" rowGap="3" mt="3">
      <Sums title={t("summary.waterSupply")} sums={summary.by_supply} />
      <Sums title={t("summary.irrigator")} sums={summary.by_irrigator} />
    </Grid>
  );
}

function Sums({ title, sums }: { title: string; sums: Summary["by_supply"] }) {
  const { units } = useSignedIn();
  return (
    <Table.Root size="sm" bg="transparent" aria-label={t("summary.totalBy", { title })}>
      <Table.Header>
        <Table.Row bg="transparent">
          <Table.ColumnHeader px="0">{title}</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">{t("summary.hours")}</Table.ColumnHeader>
          <Table.ColumnHeader px="0" textAlign="end">
            {t("summary.volume")}
          </Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {sums.map((sum) => (
          <Table.Row key={sum.name} bg="transparent">
            <Table.Cell px="0">
              {sum.name || t("summary.notAssigned")}
              <Text as="span" color="inkSoft" fontSize="sm">
                {" "}
                {t("summary.countPluralOneBlock", { count: sum.blocks })}
              </Text>
            </Table.Cell>
            <Table.Cell textAlign="end" whiteSpace="nowrap">
              {runningTime(sum.hours)}
            </Table.Cell>
            <Table.Cell px="0" textAlign="end" whiteSpace="nowrap">
              {withUnit(sum.volume_m3, units, "volume")}
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
