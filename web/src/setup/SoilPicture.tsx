import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { Refusal } from "../api/client";
import { useSignedIn } from "../session/context";
import { ink } from "../theme/system";
import { figure, measure, number } from "../units/format";
import { holds } from "../soils/Methods";
import type { HorizonIn, SoilPreview } from "../soils/queries";
import { t } from "./t";

const WIDTH = 300;
const HEIGHT = 210;
const LEFT = 36;

interface Props {
  horizons: HorizonIn[];
  preview: SoilPreview | undefined;
  error: unknown;
}

/** The profile drawn while it is typed: wilting to full by depth, with today's roots. */
export function SoilPicture({ horizons, preview, error }: Props) {
  const { units } = useSignedIn();
  const problem = error instanceof Refusal ? error.problems[0]?.message : undefined;
  if (!preview) {
    return (
      <Text color={problem ? "rust" : "inkSoft"} fontSize="sm">
        {problem ?? t("setup.theLimitsAppearHereAsYouDescribe")}
      </Text>
    );
  }
  const fits = preview.horizons.length === horizons.length;
  const bottom = Math.max(...horizons.map((h) => h.bottom_mm), 100);
  const y = scaleLinear()
    .domain([0, bottom])
    .range([4, HEIGHT - 18]);
  const x = scaleLinear()
    .domain([0, 0.6])
    .range([LEFT, WIDTH - 12]);
  return (
    <Box opacity={problem ? 0.45 : 1}>
      <Heading as="h2" size="md">
        {t("setup.availableWater")}
      </Heading>
      {problem && (
        <Text color="rust" fontSize="sm">
          {problem}
        </Text>
      )}
      {fits && (
        <svg
          width="100%"
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          role="img"
          aria-label={t("setup.wiltingToFullByDepth")}
        >
          {preview.horizons.map((h, i) => {
            const top = y(horizons[i]?.top_mm ?? 0);
            const low = y(horizons[i]?.bottom_mm ?? 0);
            const tall = Math.max(low - top, 0);
            return (
              <g key={horizons[i]?.top_mm ?? i}>
                <rect x={LEFT} y={top} width={WIDTH - LEFT} height={tall} fill={ink("bed")} />
                <rect
                  x={x(h.theta_wilt)}
                  y={top}
                  width={x(h.theta_full) - x(h.theta_wilt)}
                  height={tall}
                  fill={ink("waterMid")}
                />
                <line x1={LEFT} x2={WIDTH} y1={low} y2={low} stroke={ink("loam")} />
                <text
                  x={LEFT - 4}
                  y={low - 2}
                  textAnchor="end"
                  style={{ fontSize: 11 }}
                  fill={ink("inkSoft")}
                >
                  {figure(horizons[i]?.bottom_mm, units, "depth")}
                </text>
                {tall > 16 && (
                  <text
                    x={x(h.theta_full) + 6}
                    y={top + 14}
                    style={{ fontSize: 11 }}
                    fill={ink("ink")}
                  >
                    {t(`texture.${h.texture}`)}
                  </text>
                )}
              </g>
            );
          })}
          {preview.root_mm !== null && (
            <g>
              <line
                x1={LEFT}
                x2={WIDTH}
                y1={y(preview.root_mm)}
                y2={y(preview.root_mm)}
                stroke={ink("ink")}
                strokeDasharray="4 3"
                strokeWidth={1.6}
              />
              <text
                x={WIDTH - 2}
                y={y(preview.root_mm) + (y(preview.root_mm) < HEIGHT - 40 ? 13 : -4)}
                textAnchor="end"
                style={{ fontSize: 11 }}
                fill={ink("ink")}
              >
                {t("setup.rootsToday")}
              </text>
            </g>
          )}
          {[0, 0.2, 0.4, 0.6].map((tick) => (
            <text
              key={tick}
              x={x(tick)}
              y={HEIGHT - 4}
              textAnchor="middle"
              style={{ fontSize: 10.5 }}
              fill={ink("inkSoft")}
            >
              {tick}
            </text>
          ))}
        </svg>
      )}
      <Text fontSize="xs" color="inkSoft">
        {t("setup.bandFromWiltingToFullMM", { label: measure(units, "depth").label })}
      </Text>
      <Table.Root size="sm" mt="2" bg="transparent">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("setup.soil")}</Table.ColumnHeader>
            <Table.ColumnHeader px="1" textAlign="end">
              {t("setup.full")}
            </Table.ColumnHeader>
            <Table.ColumnHeader px="2" textAlign="end">
              {t("setup.wilting")}
            </Table.ColumnHeader>
            <Table.ColumnHeader px="0" textAlign="end">
              {t("setup.holds")}
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {preview.horizons.map((h, i) => (
            <Table.Row key={horizons[i]?.top_mm ?? i} bg="transparent">
              <Table.Cell px="0">
                {t(`texture.${h.texture}`)}
                <Text fontSize="xs" color="inkSoft">
                  {h.source}
                  {h.clamped && t("setup.outsideTheSoilsOfTheRegressionTaken")}
                </Text>
              </Table.Cell>
              <Table.Cell px="1" textAlign="end" verticalAlign="top">
                {number(h.theta_full, 3)}
              </Table.Cell>
              <Table.Cell px="2" textAlign="end" verticalAlign="top">
                {number(h.theta_wilt, 3)}
              </Table.Cell>
              <Table.Cell px="0" textAlign="end" verticalAlign="top" whiteSpace="nowrap">
                {holds(h.available_mm_per_m, h.sigma_mm_per_m, units)}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      {preview.root_mm !== null && (
        <Text mt="2" fontSize="sm">
          {t("setup.rootsToday2", {
            root: figure(preview.root_mm, units, "depth"),
            label: measure(units, "depth").label,
          })}
          {preview.stage && t(`stage.${preview.stage}`)}
          {t("setup.availableRawAboutAtOrdinaryWaterUse", {
            taw: figure(preview.taw_mm, units, "water"),
            raw: figure(preview.raw_mm, units, "water"),
            label: measure(units, "water").label,
          })}
        </Text>
      )}
    </Box>
  );
}
