import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import type { BlockLimits } from "./queries";
import { REFILL_METHOD_NAMES, valueSaid } from "./words";
import { t } from "./t";

/** Three methods of the refill point side by side, and the one in force. */
export function RefillMethodTable({ limits }: { limits: BlockLimits }) {
  const { units } = useSignedIn();
  return (
    <Box as="section" aria-labelledby="refill-methods">
      <Heading as="h2" id="refill-methods" size="lg">
        {t("limits.refillPointByThreeMethods")}
      </Heading>
      <Table.Root size="sm" bg="transparent" mt="1">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("limits.method")}</Table.ColumnHeader>
            <Table.ColumnHeader px="2">{t("limits.startsFrom")}</Table.ColumnHeader>
            <Table.ColumnHeader px="2" textAlign="end">
              {t("limits.raw")}
            </Table.ColumnHeader>
            <Table.ColumnHeader px="2" textAlign="end">
              {t("limits.refill3", { label: measure(units, "water").label })}
            </Table.ColumnHeader>
            <Table.ColumnHeader px="0" textAlign="end">
              {t("limits.topLayer", { label: measure(units, "tension").label })}
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {limits.refill_methods.map((s) => (
            <Table.Row
              key={s.refill_method}
              bg="transparent"
              fontWeight={s.in_force ? "700" : "400"}
            >
              <Table.Cell px="0">
                {REFILL_METHOD_NAMES[s.refill_method]}
                {s.in_force && ` ${t("limits.inForce")}`}
                <Text fontSize="xs" color="inkSoft" fontWeight="400">
                  {s.value === null ? t("limits.nonePublishedForThisCrop") : s.source}
                </Text>
              </Table.Cell>
              <Table.Cell px="2">
                {s.value === null ? "–" : valueSaid(s.refill_method, s.value)}
              </Table.Cell>
              <Table.Cell px="2" textAlign="end" whiteSpace="nowrap">
                {s.p === null ? "–" : `${number(s.p * 100, 0)} %, `}
                {s.p !== null && figure(s.raw_mm, units, "water")}
              </Table.Cell>
              <Table.Cell px="2" textAlign="end">
                {figure(s.refill_mm, units, "water")}
              </Table.Cell>
              <Table.Cell px="0" textAlign="end">
                {figure(s.kpa, units, "tension")}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}
