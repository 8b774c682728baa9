import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { Fragment, useState } from "react";
import { Link } from "react-router";
import { Line } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import type { Cover } from "./queries";
import { t } from "./t";

const SLOPES: Record<Cover["groups"][number]["slope"], string> = {
  level: t("siting.slopeLevel"),
  gentle: t("siting.slopeGentle"),
  sloping: t("siting.slopeSloping"),
  steep: t("siting.slopeSteep"),
};

/** Blocks alike in crop, soil, slope and system: their sites, and where one more tells most. */
export function CoverTable({ cover }: { cover: Cover }) {
  const { farm, units } = useSignedIn();
  const [find, setFind] = useState("");
  const words = find.trim().toLowerCase();
  const shown = cover.groups.filter((g) => textOf(g).toLowerCase().includes(words));
  const priced = cover.groups.some((g) => g.value !== null);
  return (
    <Box mt="6">
      <Heading as="h2" size="md">
        {t("siting.kindsOfBlock")}
      </Heading>
      <Text fontSize="sm" color="inkSoft" maxW="75ch">
        {t("siting.kindsHelp")}
      </Text>
      {cover.groups.length > 10 && (
        <Box maxW="260px" my="2">
          <Line label={t("siting.findABlock")} value={find} change={setFind} />
        </Box>
      )}
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("siting.blocks")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("siting.alikeIn")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("siting.area", { unit: measure(units, "area").label })}
              </Table.ColumnHeader>
              {priced && (
                <Table.ColumnHeader textAlign="end">
                  {t("siting.worth", { currency: cover.currency })}
                </Table.ColumnHeader>
              )}
              <Table.ColumnHeader>{t("siting.sites")}</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {shown.map((g) => (
              <Table.Row key={g.blocks[0]?.id} bg="transparent" verticalAlign="top">
                <Table.Cell px="0" fontWeight="600">
                  {g.blocks.map((b, i) => (
                    <Fragment key={b.id}>
                      {i > 0 && ", "}
                      <Link to={`/${farm.slug}/blocks/${b.id}/siting`}>{b.name}</Link>
                    </Fragment>
                  ))}
                  {g.blocks.some((b) => b.has_layers) && (
                    <Text fontSize="sm" fontWeight="400" color="inkSoft">
                      {t("siting.hasLayers")}
                    </Text>
                  )}
                </Table.Cell>
                <Table.Cell>
                  {[
                    g.crop || t("siting.noCrop"),
                    g.soil,
                    SLOPES[g.slope],
                    t(`system.${g.system}`),
                  ].join(", ")}
                </Table.Cell>
                <Table.Cell textAlign="end">{figure(g.area_m2, units, "area", 1)}</Table.Cell>
                {priced && <Table.Cell textAlign="end">{number(g.value, 0)}</Table.Cell>}
                <Table.Cell>
                  <Sites group={g} />
                  {g === cover.groups[0] && (
                    <Text fontSize="sm" fontWeight="600">
                      {t("siting.oneMoreTellsMost")}
                    </Text>
                  )}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </Box>
  );
}

/** What a group is found by. */
const textOf = (g: Cover["groups"][number]) =>
  [...g.blocks.map((b) => b.name), g.crop, g.soil, ...g.blocks.flatMap((b) => b.sites)].join(" ");

/** The sites of a group; a block without one goes by those of its like. */
function Sites({ group }: { group: Cover["groups"][number] }) {
  const { farm } = useSignedIn();
  if (group.sites === 0) return <Text color="rust">{t("siting.noSite")}</Text>;
  const without = group.blocks.filter((b) => b.sites.length === 0);
  return (
    <>
      <Text>{group.blocks.flatMap((b) => b.sites).join(", ")}</Text>
      {without.length > 0 && (
        <Text fontSize="sm" color="inkSoft">
          {t("siting.borrowing")}{" "}
          {without.map((b, i) => (
            <Fragment key={b.id}>
              {i > 0 && ", "}
              <Link to={`/${farm.slug}/blocks/${b.id}/limits`}>{b.name}</Link>
            </Fragment>
          ))}
        </Text>
      )}
    </>
  );
}
