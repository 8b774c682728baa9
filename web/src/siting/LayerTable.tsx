import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { Notice } from "../app/Notice";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import { count, number } from "../units/format";
import { useChangeLayer, type Siting, type SitingLayer } from "./queries";
import { t } from "./t";
import { KINDS, YEAR_KINDS } from "./words";

/** A layer as it stands, for one thing of it to be changed. */
const same = (layer: SitingLayer) => ({
  used: layer.used,
  rain_mm: layer.rain_mm,
  cleaning: layer.cleaning,
});

/** The block's layers: what each is of, what was dropped of its points, whether it counts. */
export function LayerTable({ siting, block }: { siting: Siting; block: number }) {
  const { farm, may } = useSignedIn();
  const change = useChangeLayer(farm.slug, block);
  const editable = may("set_up_ground");
  return (
    <Box as="section" mt="6">
      <Heading as="h2" size="md">
        {t("siting.layers")}
      </Heading>
      {siting.years === 1 && (
        <Text fontSize="sm" maxW="70ch">
          {t("siting.oneYearOnly")}
        </Text>
      )}
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("siting.layer")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("siting.kind")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">{t("siting.mean")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">{t("siting.error")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">{t("siting.pointsUsed")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("siting.griddedBy")}</Table.ColumnHeader>
              <Table.ColumnHeader />
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {siting.layers.map((layer) => (
              <Table.Row key={layer.id} bg="transparent">
                <Table.Cell px="0">
                  {editable ? (
                    <Tick
                      label={layer.name}
                      on={layer.used && !layer.stale}
                      change={(used) =>
                        change.mutate({ layer: layer.id, body: { ...same(layer), used } })
                      }
                    />
                  ) : (
                    layer.name
                  )}
                  {layer.stale && (
                    <Text fontSize="sm" color="rust">
                      {t("siting.drawnAnew")}
                    </Text>
                  )}
                </Table.Cell>
                <Table.Cell>
                  {KINDS[layer.kind]}
                  {layer.year_kind && `, ${YEAR_KINDS[layer.year_kind]}`}
                </Table.Cell>
                <Table.Cell textAlign="end">
                  {number(layer.facts.mean, 1)} {layer.unit}
                </Table.Cell>
                <Table.Cell textAlign="end">± {number(layer.facts.error, 2)}</Table.Cell>
                <Table.Cell textAlign="end">
                  {t("siting.usedOf", {
                    used: count(layer.facts.dropped["kept"] ?? layer.facts.points),
                    all: count(layer.point_count),
                  })}
                </Table.Cell>
                <Table.Cell>
                  {layer.facts.by === "kriging" ? t("siting.byKriging") : t("siting.byDistance")}
                </Table.Cell>
                <Table.Cell textAlign="end">
                  <Link
                    aria-label={t("siting.cleanPoints", { layer: layer.name })}
                    to={`/${farm.slug}/blocks/${block}/siting/layers/${layer.id}`}
                  >
                    {t("siting.clean")}
                  </Link>
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      {change.error && <Notice error={change.error} />}
      <Text fontSize="sm" mt="2">
        <Link to={`/${farm.slug}/farm/siting`}>{t("siting.importALayer")}</Link>
      </Text>
    </Box>
  );
}
