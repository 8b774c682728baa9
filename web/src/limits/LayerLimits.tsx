import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import type { BlockLimits } from "./queries";

/** Full, refill and wilting layer by layer: as water, content, tension and percent. */
export function LayerLimits({ limits }: { limits: BlockLimits }) {
  const { units } = useSignedIn();
  const water = (mm: number | null) => figure(mm, units, "water");
  const head = { px: "2", textAlign: "end" } as const;
  return (
    <Box as="section" aria-labelledby="layers" mt="6">
      <Heading as="h2" id="layers" size="lg">
        Layer by layer
      </Heading>
      <Table.ScrollArea>
        <Table.Root size="sm" bg="transparent" mt="1">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{measure(units, "depth").label}</Table.ColumnHeader>
              <Table.ColumnHeader px="2">soil</Table.ColumnHeader>
              <Table.ColumnHeader {...head}>full</Table.ColumnHeader>
              <Table.ColumnHeader {...head}>refill</Table.ColumnHeader>
              <Table.ColumnHeader {...head}>wilting</Table.ColumnHeader>
              <Table.ColumnHeader {...head} pe="0">
                left at refill
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
                  {l.texture}
                  <Text fontSize="xs" color="inkSoft">
                    {l.source}; holds {water(l.available_mm)} ± {water(l.available_sigma_mm)}
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
              <Table.Cell px="0">roots</Table.Cell>
              <Table.Cell px="2">
                {measure(units, "water").label}; TAW {water(limits.taw_mm)} ±{" "}
                {water(limits.taw_sigma_mm)}
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
          Salt: ECe {number(limits.ece, 1)} dS/m in the roots leaves{" "}
          <b>{number(limits.relative_yield * 100, 0)} %</b> of the yield (FAO-29).
        </Text>
      )}
      {limits.leaching !== null && (
        <Text mt="1" fontSize="sm">
          Water of ECw {number(limits.water_ecw, 1)} dS/m:{" "}
          <b>{number(limits.leaching.share * 100, 0)} %</b> of it should pass below the roots
          {limits.leaching.falls_short && ", the most that is practical"}. ECe then stays near{" "}
          {number(limits.leaching.ece_ds_m, 1)} dS/m, which leaves{" "}
          <b>{number(limits.leaching.yield_left * 100, 0)} %</b> of the yield (FAO-29).
          {limits.leaching.falls_short &&
            " More leaching would be needed to lose no more than a tenth of it: use other water, or a crop that stands more salt."}
        </Text>
      )}
      {limits.relative_yield === null && limits.layers.length > 0 && (
        <Text mt="2" fontSize="sm" color="inkSoft">
          Salt: not known;{" "}
          {limits.ece === null
            ? "ECe is not measured in every layer of the roots"
            : "the book has no tolerance for this crop"}
          .
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
