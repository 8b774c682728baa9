import { Box, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import type { BlockData } from "./queries";
import { t } from "./t";

/** Full, refill and wilting: of the root zone today, and horizon by horizon. */
export function Limits({ block }: { block: BlockData }) {
  const { farm, units } = useSignedIn();
  const l = block.limits;
  return (
    <Box as="section" mt="6" aria-labelledby="limits">
      <Flex justify="space-between" align="baseline">
        <Heading as="h2" id="limits" size="lg">
          {t("block.fullRefillWilting")}
        </Heading>
        <Link
          to={`/${farm.slug}/blocks/${block.id}/limits`}
          style={{ textDecoration: "underline", fontSize: "14px" }}
        >
          {t("block.allLimitsAndTheSeason")}
        </Link>
      </Flex>
      {l && (
        <Text mt="1">
          {t("block.inTheRootZoneTodayFull")} <b>{figure(l.full_mm, units, "water")}</b>
          {t("block.refill2")} <b>{figure(l.refill_mm, units, "water")}</b>
          {t("block.wilting")} <b>{figure(l.wilt_mm, units, "water")}</b>{" "}
          {measure(units, "water").label}.
        </Text>
      )}
      <Table.Root size="sm" mt="1" bg="transparent">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{measure(units, "depth").label}</Table.ColumnHeader>
            <Table.ColumnHeader px="1">{t("block.soil2")}</Table.ColumnHeader>
            <Table.ColumnHeader px="1" textAlign="end">
              {t("block.full")}
            </Table.ColumnHeader>
            <Table.ColumnHeader px="0" textAlign="end">
              {t("block.wilting2")}
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {block.horizons.map((h) => (
            <Table.Row key={h.top_mm} bg="transparent">
              <Table.Cell px="0" whiteSpace="nowrap">
                {figure(h.top_mm, units, "depth")}–{figure(h.bottom_mm, units, "depth")}
              </Table.Cell>
              <Table.Cell px="1">
                {t(`texture.${h.texture}`)}
                <Text as="span" color="inkSoft" fontSize="xs" display="block">
                  {t("block.kpa", { source: h.source, fullTension: number(h.full_tension_kpa, 0) })}
                </Text>
              </Table.Cell>
              <Table.Cell px="1" textAlign="end">
                {number(h.theta_full, 3)}
              </Table.Cell>
              <Table.Cell px="0" textAlign="end">
                {number(h.theta_wilt, 3)}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}
