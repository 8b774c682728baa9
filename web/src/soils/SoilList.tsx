import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Line } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { ink } from "../theme/system";
import { figure, measure } from "../units/format";
import { Laboratory } from "./Laboratory";
import { useDeleteSoil, useSoils, type SoilRow } from "./queries";
import { t } from "./t";

/** The farm's soils: what each holds, and who stands on it. */
export function SoilList() {
  const { farm, units, may } = useSignedIn();
  const soils = useSoils(farm.slug);
  const remove = useDeleteSoil(farm.slug);
  const [search, setSearch] = useState("");
  const [sheet, setSheet] = useState(false);
  if (soils.isPending) return <Loading what={t("soils.loadingTheSoils")} />;
  if (soils.error) return <Notice error={soils.error} retry={() => void soils.refetch()} />;
  const wanted = search.trim().toLowerCase();
  const rows = soils.data.filter((s) =>
    [s.name, s.note, ...s.blocks, ...s.horizons.map((h) => t(`texture.${h.texture}`))]
      .join(" ")
      .toLowerCase()
      .includes(wanted),
  );
  const editable = may("set_up_ground");
  return (
    <Box maxW="1180px">
      <Flex justify="space-between" align="end" gap="3" wrap="wrap" mb="3">
        <Box w={{ base: "100%", sm: "280px" }}>
          <Line label={t("soils.findASoil")} type="search" value={search} change={setSearch} />
        </Box>
        {editable && (
          <Flex gap="2">
            <Button size="sm" variant="outline" onClick={() => setSheet(true)}>
              {t("soils.laboratorySheet")}
            </Button>
            <Button asChild size="sm">
              <Link to="new">{t("soils.newSoil")}</Link>
            </Button>
          </Flex>
        )}
      </Flex>
      {remove.error && <Notice error={remove.error} />}
      {soils.data.length === 0 && (
        <Box py="6" maxW="60ch">
          <Heading as="h2" size="lg">
            {t("soils.noSoilsYet")}
          </Heading>
          <Text mt="1">{t("soils.describeOneFromAPitAnAuger")}</Text>
        </Box>
      )}
      {soils.data.length > 0 && rows.length === 0 && <Text>{t("soils.noSoilMatches")}</Text>}
      {rows.length > 0 && (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("soils.soil")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("soils.horizons")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">
                  {t("soils.available", { label: measure(units, "water").label })}
                </Table.ColumnHeader>
                <Table.ColumnHeader>{t("soils.limitsFrom")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("soils.blocks")}</Table.ColumnHeader>
                <Table.ColumnHeader px="0" />
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {rows.map((s) => (
                <Table.Row key={s.id} bg="transparent">
                  <Table.Cell px="0" fontWeight="600">
                    <Link to={String(s.id)} style={{ textDecoration: "underline" }}>
                      {s.name}
                    </Link>
                    {s.earlier && (
                      <Text as="span" fontWeight="400" color="inkSoft">
                        {" "}
                        {t("soils.earlierDescription")}
                      </Text>
                    )}
                    {s.note && (
                      <Text fontWeight="400" fontSize="xs" color="inkSoft">
                        {s.note}
                      </Text>
                    )}
                  </Table.Cell>
                  <Table.Cell>
                    <Strip soil={s} />
                  </Table.Cell>
                  <Table.Cell textAlign="end" whiteSpace="nowrap">
                    {figure(s.available_mm, units, "water", units === "metric" ? 0 : 1)} ±{" "}
                    {figure(s.sigma_mm, units, "water", units === "metric" ? 0 : 1)}
                    <Text fontSize="xs" color="inkSoft">
                      {t("soils.to", {
                        min: figure(Math.min(s.depth_mm, 1000), units, "depth"),
                        label: measure(units, "depth").label,
                      })}
                    </Text>
                  </Table.Cell>
                  <Table.Cell>{s.methods.join(", ")}</Table.Cell>
                  <Table.Cell>
                    {s.blocks.length === 0
                      ? t("soils.none")
                      : s.blocks.length < 4
                        ? s.blocks.join(", ")
                        : t("soils.blocks2", { count: s.blocks.length })}
                  </Table.Cell>
                  <Table.Cell px="0" textAlign="end">
                    {editable && s.blocks.length === 0 && (
                      <Button
                        size="xs"
                        variant="ghost"
                        aria-label={t("soils.remove2", { name: s.name })}
                        onClick={() => remove.mutate(s.id)}
                      >
                        {t("soils.remove")}
                      </Button>
                    )}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      {sheet && <Laboratory close={() => setSheet(false)} />}
    </Box>
  );
}

const STRIP = 190;

/** The horizons laid on their side, surface at the left. */
function Strip({ soil }: { soil: SoilRow }) {
  const x = (mm: number) => (mm / Math.max(soil.depth_mm, 1500)) * STRIP;
  return (
    <svg
      width={STRIP}
      height={38}
      role="img"
      aria-label={soil.horizons.map((h) => t(`texture.${h.texture}`)).join(", ")}
    >
      {soil.horizons.map((h, i) => (
        <g key={h.top_mm}>
          <rect
            x={x(h.top_mm)}
            y={2}
            width={Math.max(x(h.bottom_mm) - x(h.top_mm) - 1, 1)}
            height={12}
            fill={ink(h.stops_roots ? "rust" : i % 2 ? "bed" : "loam")}
            opacity={h.stops_roots ? 1 : 0.85}
          />
          <text x={x(h.top_mm)} y={i % 2 ? 33 : 24} fill={ink("inkSoft")} style={{ fontSize: 10 }}>
            {t(`texture.${h.texture}`)}
          </text>
        </g>
      ))}
    </svg>
  );
}
