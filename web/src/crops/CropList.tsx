import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Choice, Line } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import { useCrops } from "./queries";
import { t } from "./t";

/** The crops: the farm's own, and the book's by group. */
export function CropList() {
  const { farm, units } = useSignedIn();
  const crops = useCrops(farm.slug);
  const [search, setSearch] = useState("");
  const [group, setGroup] = useState("");
  if (crops.isPending) return <Loading what={t("crops.loadingTheCrops")} />;
  if (crops.error) return <Notice error={crops.error} retry={() => void crops.refetch()} />;
  const rows = crops.data.filter(
    (c) =>
      c.name.toLowerCase().includes(search.trim().toLowerCase()) &&
      (!group || (group === "own" ? c.own : c.group === group)),
  );
  const groups = [...new Set(crops.data.map((c) => c.group))];
  return (
    <Box maxW="1180px">
      <Flex gap="3" mb="3" wrap="wrap" align="end">
        <Box w={{ base: "100%", sm: "260px" }}>
          <Line label={t("crops.findACrop")} type="search" value={search} change={setSearch} />
        </Box>
        <Box w="200px">
          <Choice label={t("crops.group")} value={group} change={setGroup}>
            <option value="">{t("crops.allGroups")}</option>
            <option value="own">{t("crops.theFarmsOwn")}</option>
            {groups.map((g) => (
              <option key={g}>{g}</option>
            ))}
          </Choice>
        </Box>
        <Text fontSize="sm" color="inkSoft" pb="1">
          {t("crops.cropsOpenOneToSeeEveryValue", { count: rows.length })}
        </Text>
      </Flex>
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("crops.crop")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("crops.group")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">{t("crops.days2")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("crops.kcStartMidEnd")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("crops.roots", { label: measure(units, "depth").label })}
              </Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">p</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("crops.tension", { label: measure(units, "tension").label })}
              </Table.ColumnHeader>
              <Table.ColumnHeader>{t("crops.alsoIncludes")}</Table.ColumnHeader>
              <Table.ColumnHeader px="0" textAlign="end">
                {t("crops.seasons")}
              </Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {rows.map((c) => (
              <Table.Row key={c.key} bg="transparent">
                <Table.Cell px="0" fontWeight="600">
                  <Link to={c.key} style={{ textDecoration: "underline" }}>
                    {c.name}
                  </Link>
                  {c.own && (
                    <Text as="span" fontWeight="400" color="inkSoft">
                      {" "}
                      {t("crops.own")}
                    </Text>
                  )}
                </Table.Cell>
                <Table.Cell>{c.group}</Table.Cell>
                <Table.Cell textAlign="end">{c.stage_days.reduce((a, b) => a + b)}</Table.Cell>
                <Table.Cell whiteSpace="nowrap">
                  {c.kc.map((k) => number(k, 2)).join(" / ")}
                  {c.surface === "alfalfa" && (
                    <Text as="span" color="rust">
                      {" "}
                      {t("crops.onAlfalfaEt")}
                    </Text>
                  )}
                </Table.Cell>
                <Table.Cell textAlign="end">
                  {figure(c.root_schedule_mm, units, "depth")}
                </Table.Cell>
                <Table.Cell textAlign="end">{number(c.p, 2)}</Table.Cell>
                <Table.Cell textAlign="end">{figure(c.tension_kpa, units, "tension")}</Table.Cell>
                <Table.Cell color="inkSoft">
                  {[
                    c.counts_warmth && t("crops.degreeDays"),
                    c.scales_with_cover && t("crops.groundCover"),
                    c.is_cut && "cuttings",
                  ]
                    .filter(Boolean)
                    .join(", ")}
                </Table.Cell>
                <Table.Cell px="0" textAlign="end">
                  {c.blocks || "–"}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      {rows.length === 0 && <Text mt="3">{t("crops.noCropMatches")}</Text>}
    </Box>
  );
}
