import { Box, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { List, type Column } from "../list/List";
import type { Facet } from "../list/narrow";
import { useSignedIn } from "../session/context";
import { figure, measure, number, type UnitSystem } from "../units/format";
import { useCrops, type CropRow } from "./queries";
import { t } from "./t";

const FACETS: Facet<CropRow>[] = [
  {
    label: t("crops.group"),
    every: t("crops.allGroups"),
    of: (c) => (c.own ? t("crops.theFarmsOwn") : c.group),
  },
];

/** The crops: the farm's own, and the published ones by group. */
export function CropList() {
  const { farm, units } = useSignedIn();
  const crops = useCrops(farm.slug);
  if (crops.isPending) return <Loading what={t("crops.loadingTheCrops")} />;
  if (crops.error) return <Notice error={crops.error} retry={() => void crops.refetch()} />;
  return (
    <Box maxW="1180px">
      <List
        rows={crops.data}
        keyOf={(c) => c.key}
        columns={columns(units)}
        find={{ label: t("crops.findACrop"), text: (c) => c.name }}
        facets={FACETS}
        summary={summary}
        noMatch={t("crops.noCropMatches")}
      />
    </Box>
  );
}

const summary = (shown: CropRow[]) => (
  <Text fontSize="sm" color="inkSoft">
    {t("crops.cropsOpenOneToSeeEveryValue", { count: shown.length })}
  </Text>
);

function columns(units: UnitSystem): Column<CropRow>[] {
  return [
    {
      key: "crop",
      label: t("crops.crop"),
      cell: (c) => (
        <>
          <Link to={c.key} style={{ textDecoration: "underline" }}>
            {c.name}
          </Link>
          {c.own && (
            <Text as="span" fontWeight="400" color="inkSoft">
              {" "}
              {t("crops.own")}
            </Text>
          )}
        </>
      ),
    },
    { key: "group", label: t("crops.group"), cell: (c) => c.group },
    {
      key: "days",
      label: t("crops.days2"),
      end: true,
      cell: (c) => c.stage_days.reduce((a, b) => a + b),
    },
    {
      key: "kc",
      label: t("crops.kcStartMidEnd"),
      cell: (c) => (
        <Text as="span" whiteSpace="nowrap">
          {c.kc.map((k) => number(k, 2)).join(" / ")}
          {c.surface === "alfalfa" && (
            <Text as="span" color="rust">
              {" "}
              {t("crops.onAlfalfaEt")}
            </Text>
          )}
        </Text>
      ),
    },
    {
      key: "roots",
      label: t("crops.roots", { label: measure(units, "depth").label }),
      end: true,
      cell: (c) => figure(c.root_schedule_mm, units, "depth"),
    },
    { key: "p", label: "p", end: true, cell: (c) => number(c.p, 2) },
    {
      key: "tension",
      label: t("crops.tension", { label: measure(units, "tension").label }),
      end: true,
      cell: (c) => figure(c.tension_kpa, units, "tension"),
    },
    {
      key: "also",
      label: t("crops.alsoIncludes"),
      cell: (c) => (
        <Text as="span" color="inkSoft">
          {[
            c.counts_warmth && t("crops.degreeDays"),
            c.scales_with_cover && t("crops.groundCover"),
            c.is_cut && t("crops.cuttings"),
          ]
            .filter(Boolean)
            .join(", ")}
        </Text>
      ),
    },
    { key: "seasons", label: t("crops.seasons"), end: true, cell: (c) => c.blocks || "–" },
  ];
}
