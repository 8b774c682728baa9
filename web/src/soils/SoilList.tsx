import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { List, type Column } from "../list/List";
import { useSignedIn } from "../session/context";
import { ink } from "../theme/system";
import { figure, measure, type UnitSystem } from "../units/format";
import { ImportSurvey } from "./ImportSurvey";
import { Laboratory } from "./Laboratory";
import { METHOD_NAMES } from "./Methods";
import { useDeleteSoil, useSoils, type SoilRow } from "./queries";
import { t } from "./t";

/** What a soil is found by. */
const textOf = (s: SoilRow) =>
  [s.name, s.note, ...s.blocks, ...s.horizons.map((h) => t(`texture.${h.texture}`))].join(" ");

/** The farm's soils: what each holds, and which blocks are on it. */
export function SoilList() {
  const { farm, units, may } = useSignedIn();
  const soils = useSoils(farm.slug);
  const remove = useDeleteSoil(farm.slug);
  const [sheet, setSheet] = useState(false);
  const [survey, setSurvey] = useState(false);
  if (soils.isPending) return <Loading what={t("soils.loadingTheSoils")} />;
  if (soils.error) return <Notice error={soils.error} retry={() => void soils.refetch()} />;
  const editable = may("set_up_ground");
  const actions = editable && (
    <>
      <Button size="sm" variant="outline" onClick={() => setSheet(true)}>
        {t("soils.importLaboratorySheet")}
      </Button>
      <Button size="sm" variant="outline" onClick={() => setSurvey(true)}>
        {t("soils.soilSurveyDots")}
      </Button>
      <Button asChild size="sm">
        <Link to="new">{t("soils.newSoil")}</Link>
      </Button>
    </>
  );
  return (
    <Box maxW="1180px">
      {remove.error && <Notice error={remove.error} />}
      {soils.data.length === 0 ? (
        <>
          <Flex gap="2" justify="end">
            {actions}
          </Flex>
          <Box py="6" maxW="60ch">
            <Heading as="h2" size="lg">
              {t("soils.noSoilsYet")}
            </Heading>
            <Text mt="1">{t("soils.describeOneFromAPitAnAuger")}</Text>
          </Box>
        </>
      ) : (
        <List
          rows={soils.data}
          keyOf={(s) => s.id}
          columns={columns(units, editable ? (soil) => remove.mutate(soil.id) : null)}
          find={{ label: t("soils.findASoil"), text: textOf }}
          actions={actions}
          summary={summary}
          noMatch={t("soils.noSoilMatches")}
        />
      )}
      {sheet && <Laboratory close={() => setSheet(false)} />}
      {survey && <ImportSurvey close={() => setSurvey(false)} />}
    </Box>
  );
}

const summary = (shown: SoilRow[]) => (
  <Text fontSize="sm" color="inkSoft">
    {t("soils.soilsCount", { count: shown.length })}
  </Text>
);

function columns(units: UnitSystem, remove: ((soil: SoilRow) => void) | null): Column<SoilRow>[] {
  const digits = units === "metric" ? 0 : 1;
  return [
    { key: "soil", label: t("soils.soil"), cell: (s) => <Name soil={s} /> },
    { key: "horizons", label: t("soils.horizons"), cell: (s) => <Strip soil={s} /> },
    {
      key: "available",
      label: t("soils.available", { label: measure(units, "water").label }),
      end: true,
      cell: (s) => (
        <Text as="span" whiteSpace="nowrap">
          {figure(s.available_mm, units, "water", digits)} ±{" "}
          {figure(s.sigma_mm, units, "water", digits)}
          <Text fontSize="xs" color="inkSoft">
            {t("soils.to", {
              min: figure(Math.min(s.depth_mm, 1000), units, "depth"),
              label: measure(units, "depth").label,
            })}
          </Text>
        </Text>
      ),
    },
    {
      key: "methods",
      label: t("soils.limitsFrom"),
      cell: (s) => s.methods.map((m) => METHOD_NAMES[m]).join(", "),
    },
    {
      key: "blocks",
      label: t("soils.blocks"),
      cell: (s) => {
        if (s.blocks.length === 0) return t("soils.none");
        return s.blocks.length < 4
          ? s.blocks.join(", ")
          : t("soils.blocks2", { count: s.blocks.length });
      },
    },
    {
      key: "remove",
      label: "",
      end: true,
      cell: (s) =>
        remove &&
        s.blocks.length === 0 && (
          <Button
            size="xs"
            variant="ghost"
            aria-label={t("soils.remove2", { name: s.name })}
            onClick={() => remove(s)}
          >
            {t("soils.remove")}
          </Button>
        ),
    },
  ];
}

function Name({ soil }: { soil: SoilRow }) {
  return (
    <>
      <Link to={String(soil.id)} style={{ textDecoration: "underline" }}>
        {soil.name}
      </Link>
      {soil.earlier && (
        <Text as="span" fontWeight="400" color="inkSoft">
          {" "}
          {t("soils.earlierDescription")}
        </Text>
      )}
      {soil.surveyed && (
        <Text fontWeight="400" fontSize="xs" color="rust">
          {t("soils.surveyedNotSeen")}
        </Text>
      )}
      {soil.note && (
        <Text fontWeight="400" fontSize="xs" color="inkSoft">
          {soil.note}
        </Text>
      )}
    </>
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
