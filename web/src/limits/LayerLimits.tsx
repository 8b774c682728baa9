import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import type { BlockLimits } from "./queries";
import { t } from "./t";

/** Full, refill and wilting layer by layer: as water, content, tension and percent. */
export function LayerLimits({ limits }: { limits: BlockLimits }) {
  const { units } = useSignedIn();
  const water = (mm: number | null) => figure(mm, units, "water");
  const head = { px: "2", textAlign: "end" } as const;
  return (
    <Box as="section" aria-labelledby="layers" mt="6">
      <Heading as="h2" id="layers" size="lg">
        {t("limits.layerByLayer")}
      </Heading>
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent" mt="1">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{measure(units, "depth").label}</Table.ColumnHeader>
              <Table.ColumnHeader px="2">{t("limits.soil3")}</Table.ColumnHeader>
              <Table.ColumnHeader {...head}>{t("limits.full")}</Table.ColumnHeader>
              <Table.ColumnHeader {...head}>{t("limits.refill2")}</Table.ColumnHeader>
              <Table.ColumnHeader {...head}>{t("limits.wilting")}</Table.ColumnHeader>
              <Table.ColumnHeader {...head} pe="0">
                {t("limits.leftAtRefill")}
              </Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {limits.layers.map((l) => (
              <Table.Row key={l.top_mm} bg="transparent">
                <Table.Cell px="0" whiteSpace="nowrap">
                  {figure(l.top_mm, units, "depth")}–{figure(l.bottom_mm, units, "depth")}
                </Table.Cell>
                <Table.Cell px="2">
                  {t(`texture.${l.texture}`)}
                  <Text fontSize="xs" color="inkSoft">
                    {t("limits.holds", {
                      source: l.source,
                      water: water(l.available_mm),
                      water2: water(l.available_sigma_mm),
                    })}
                  </Text>
                </Table.Cell>
                <Point mm={l.full_mm} theta={l.theta_full} kpa={l.full_kpa} />
                <Point mm={l.refill_mm} theta={l.theta_refill} kpa={l.refill_kpa} />
                <Point mm={l.wilt_mm} theta={l.theta_wilt} kpa={1500} />
                <Table.Cell {...head} pe="0">
                  {number(
                    (100 * (l.theta_refill - l.theta_wilt)) / (l.theta_full - l.theta_wilt),
                    0,
                  )}{" "}
                  %
                </Table.Cell>
              </Table.Row>
            ))}
            <Table.Row bg="transparent" fontWeight="700">
              <Table.Cell px="0">{t("limits.roots")}</Table.Cell>
              <Table.Cell px="2">
                {t("limits.taw", {
                  label: measure(units, "water").label,
                  water: water(limits.taw_mm),
                  water2: water(limits.taw_sigma_mm),
                })}
              </Table.Cell>
              <Table.Cell {...head}>{water(limits.full_mm)}</Table.Cell>
              <Table.Cell {...head}>{water(limits.refill_mm)}</Table.Cell>
              <Table.Cell {...head}>{water(limits.wilt_mm)}</Table.Cell>
              <Table.Cell {...head} pe="0">
                {limits.raw_mm !== null && limits.taw_mm !== null
                  ? `${number(100 * (1 - limits.raw_mm / limits.taw_mm), 0)} %`
                  : "–"}
              </Table.Cell>
            </Table.Row>
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      {limits.relative_yield !== null && limits.ece !== null && (
        <Text mt="2" fontSize="sm">
          {t("limits.saltEceDsMInTheRoots", { ece: number(limits.ece, 1) })}{" "}
          <b>{number(limits.relative_yield * 100, 0)} %</b> {t("limits.ofTheYieldFao29")}
        </Text>
      )}
      {limits.leaching !== null && (
        <Text mt="1" fontSize="sm">
          {t("limits.waterOfEcwDsM", { waterEcw: number(limits.water_ecw, 1) })}{" "}
          <b>{number(limits.leaching.share * 100, 0)} %</b>{" "}
          {t("limits.ofItShouldDrainBelowTheRoots")}
          {limits.leaching.falls_short && t("limits.theMostThatIsPractical")}
          {t("limits.eceThenStaysNearDsMWhich", {
            eceDs: number(limits.leaching.ece_ds_m, 1),
          })}{" "}
          <b>{number(limits.leaching.yield_left * 100, 0)} %</b> {t("limits.ofTheYieldFao29")}
          {limits.leaching.falls_short && ` ${t("limits.moreLeachingWouldBeNeededToLose")}`}
        </Text>
      )}
      {limits.relative_yield === null && limits.layers.length > 0 && (
        <Text mt="2" fontSize="sm" color="inkSoft">
          {t("limits.saltNotKnown", { ece: limits.ece === null ? "yes" : "no" })}
        </Text>
      )}
    </Box>
  );
}

/** One limit of a layer: its water, and beneath it the content and the tension. */
function Point({ mm, theta, kpa }: { mm: number; theta: number; kpa: number }) {
  const { units } = useSignedIn();
  return (
    <Table.Cell px="2" textAlign="end" verticalAlign="top">
      {figure(mm, units, "water")}
      <Text fontSize="xs" color="inkSoft" whiteSpace="nowrap">
        {number(theta, 3)} · {figure(kpa, units, "tension")} {measure(units, "tension").label}
      </Text>
    </Table.Cell>
  );
}
