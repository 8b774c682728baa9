import { Box, Button, Flex, Grid, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import type { Schemas } from "../api/client";
import { useSignedIn } from "../session/context";
import { figure, measure, number, type UnitSystem } from "../units/format";
import { CropCurve } from "./CropCurve";
import { CropEditor } from "./CropEditor";
import { useCrop, useDeleteCrop, type Crop } from "./queries";
import { t } from "./t";

/** One crop: its season drawn, every value with its source, and what differs from the book. */
export function CropPage() {
  const { crop: key = "" } = useParams();
  const { farm, units, may } = useSignedIn();
  const crop = useCrop(farm.slug, key);
  const remove = useDeleteCrop(farm.slug);
  const navigate = useNavigate();
  const [editing, setEditing] = useState(false);
  if (crop.isPending) return <Loading what={t("crops.loadingTheCrops")} />;
  if (crop.error) return <Notice error={crop.error} />;
  const data = crop.data;
  const list = `/${farm.slug}/farm/crops`;
  return (
    <Box maxW="1280px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={list}>{t("crops.crops")}</Link>
      </Text>
      <Flex justify="space-between" gap="3" wrap="wrap" align="start">
        <Box>
          <Heading as="h2" size="2xl" fontWeight="700">
            {data.name}
          </Heading>
          <Text color="inkSoft" fontSize="sm">
            {data.own ? t("crops.theFarmsOwnCopy") : t("crops.publishedValues")} · {data.group} ·{" "}
            {data.calendar}
            {data.perennial && ` ${t("crops.perennialStartsAgainEachYear")}`}
          </Text>
        </Box>
        {may("set_up_ground") && !editing && (
          <Flex gap="2">
            <Button size="sm" onClick={() => setEditing(true)}>
              {data.own ? t("crops.editValues") : t("crops.makeTheFarmsOwnCopy")}
            </Button>
            {data.own && data.blocks === 0 && (
              <Button
                size="sm"
                variant="ghost"
                onClick={() => remove.mutate(key, { onSuccess: () => void navigate(list) })}
              >
                {t("crops.remove")}
              </Button>
            )}
          </Flex>
        )}
      </Flex>
      {remove.error && <Notice error={remove.error} />}
      {editing ? (
        <CropEditor
          key={units}
          crop={data}
          units={units}
          close={() => setEditing(false)}
          saved={(next) => {
            setEditing(false);
            void navigate(`${list}/${next}`);
          }}
        />
      ) : (
        <Grid
          templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0, 1fr) 560px" }}
          gap="8"
          mt="4"
        >
          <Values crop={data} units={units} />
          <Box>
            <CropCurve crop={data} units={units} />
            {data.differences.length > 0 && <Differences crop={data} />}
          </Box>
        </Grid>
      )}
    </Box>
  );
}

const VALUE_NAMES: Record<Schemas["CropValue"], string> = {
  stage_days: t("crops.stagesDays"),
  kc: t("crops.kcStartMidEnd"),
  kcb: t("crops.basalKcb"),
  height_m: t("crops.heightM"),
  surface: t("crops.kcIsOn"),
  root_initial_mm: t("crops.initialRootDepthMm"),
  root_schedule_mm: t("crops.rootDepthFullGrownMm"),
  root_deep_mm: t("crops.maximumRootDepthMm"),
  p: t("crops.pAt5MmDay"),
  tension_kpa: t("crops.tensionLimitKpa"),
  salt: t("crops.saltTolerance"),
  degree_days: t("crops.degreeDays2"),
  canopy: t("crops.kcIsFor"),
};

function Differences({ crop }: { crop: Crop }) {
  return (
    <Box as="section" mt="4" aria-labelledby="differences">
      <Heading as="h3" id="differences" size="md">
        {t("crops.differencesFromThePublishedValues")}
      </Heading>
      {crop.reason && <Text fontSize="sm">{crop.reason}</Text>}
      <Table.Root size="sm" bg="transparent" mt="1">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("crops.value")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("crops.own3")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("crops.published")}</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {crop.differences.map((d) => (
            <Table.Row key={d.value} bg="transparent">
              <Table.Cell px="0">{VALUE_NAMES[d.value]}</Table.Cell>
              <Table.Cell fontWeight="700">{d.own}</Table.Cell>
              <Table.Cell color="inkSoft">{d.book}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}

/** Every value in words, with the name its source goes by. */
function rowsOf(crop: Crop, units: UnitSystem): [string, string, string][] {
  const depth = measure(units, "depth").label;
  const deep = (mm: number) => figure(mm, units, "depth");
  const rows: [string, string, string][] = [
    [t("crops.stages"), t("crops.days3", { stage: crop.stage_days.join(" + ") }), "stage_days"],
    [
      t("crops.kcStartMidEnd"),
      t("crops.onEt", { kc: crop.kc.join(" / "), surface: t(`surface.${crop.surface}`) }),
      "kc",
    ],
    [
      t("crops.roots3"),
      t("crops.toAtMost", {
        deep: deep(crop.root_initial_mm),
        deep2: deep(crop.root_schedule_mm),
        depth,
        deep3: deep(crop.root_deep_mm),
      }),
      "root_depth",
    ],
    [t("crops.heightFullGrown"), `${deep(crop.height_m * 1000)} ${depth}`, "height_m"],
    [t("crops.pAt5MmDay"), number(crop.p, 2), "p"],
    [
      t("crops.tensionLimit"),
      crop.tension_kpa ? t("crops.kpa", { tension: crop.tension_kpa }) : "none",
      "tension_kpa",
    ],
    [
      t("crops.yieldResponseKy"),
      crop.ky_season === null
        ? "none"
        : t("crops.overTheSeason", {
            kySeason: crop.ky_season,
            map: crop.windows.map((w) => `; ${w.name} ${w.ky}`).join(""),
          }),
      "ky",
    ],
    [
      t("crops.saltTolerance"),
      crop.salt
        ? t("crops.eceDsMThenADsM", {
            thresholdDs: crop.salt.threshold_ds_m,
            slope: crop.salt.slope_percent,
          })
        : "none",
      "salt",
    ],
    [
      t("crops.degreeDays2"),
      crop.degree_days
        ? t("crops.cDAboveC", {
            stageSums: crop.degree_days.stage_sums.join(" + "),
            baseC: crop.degree_days.base_c,
            upperC:
              crop.degree_days.upper_c === null
                ? ""
                : t("crops.below", { upperC: crop.degree_days.upper_c }),
            method: t(`warmth.${crop.degree_days.method}`),
          })
        : "none",
      "degree_days",
    ],
  ];
  if (crop.kcb) rows.splice(2, 0, [t("crops.basalKcb"), crop.kcb.join(" / "), "kcb"]);
  if (crop.canopy) {
    rows.push([
      t("crops.kcIsFor"),
      t("crops.coverMHigh", {
        cover: number(crop.canopy.cover * 100, 0),
        height: crop.canopy.height_m,
      }),
      "canopy",
    ]);
  }
  if (crop.cutting) {
    rows.push([
      t("crops.afterACut"),
      t("crops.daysKc", {
        days: crop.cutting.days.join(" + "),
        kc: crop.cutting.kc.join(" / "),
        kcb: crop.cutting.kcb ? t("crops.basalKcb2", { kcb: crop.cutting.kcb.join(" / ") }) : "",
      }),
      "cutting",
    ]);
  }
  return rows;
}

function Values({ crop, units }: { crop: Crop; units: UnitSystem }) {
  return (
    <Table.Root size="sm" bg="transparent" aria-label={t("crops.valuesAndSources")}>
      <Table.Body>
        {rowsOf(crop, units).map(([name, value, source]) => (
          <Table.Row key={name} bg="transparent">
            <Table.Cell px="0" verticalAlign="top" whiteSpace="nowrap" color="inkSoft">
              {name}
            </Table.Cell>
            <Table.Cell pe="0">
              {value}
              {crop.sources[source] && (
                <Text fontSize="xs" color="inkSoft">
                  {crop.sources[source]}
                </Text>
              )}
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
