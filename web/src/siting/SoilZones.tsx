import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { useSignedIn } from "../session/context";
import { figure, measure } from "../units/format";
import type { Siting } from "./queries";
import { t } from "./t";

/** The soil zones of the map in the block: surveyed or drawn, and whether anybody saw them. */
export function SoilZones({ siting }: { siting: Siting }) {
  const { farm, units } = useSignedIn();
  if (siting.soils.length === 0) return null;
  return (
    <Box as="section" mt="6">
      <Heading as="h2" size="md">
        {t("siting.soilZones")}
      </Heading>
      <Text fontSize="sm" color="inkSoft" maxW="70ch">
        {t("siting.surveyedHelp")}
      </Text>
      <Table.Root size="sm" bg="transparent">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("siting.soilZone")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("siting.soilOfLibrary")}</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">
              {t("siting.area", { unit: measure(units, "area").label })}
            </Table.ColumnHeader>
            <Table.ColumnHeader />
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {siting.soils.map((s) => (
            <Table.Row key={s.name} bg="transparent">
              <Table.Cell px="0">{s.name}</Table.Cell>
              <Table.Cell>
                {s.soil_id === null ? (
                  t("siting.soilNotDescribed")
                ) : (
                  <Link to={`/${farm.slug}/farm/soils/${s.soil_id}`}>{s.soil}</Link>
                )}
              </Table.Cell>
              <Table.Cell textAlign="end">{figure(s.area_m2, units, "area", 1)}</Table.Cell>
              <Table.Cell>
                {s.surveyed ? t("siting.surveyedNotSeen") : t("siting.drawnByHand")}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}
