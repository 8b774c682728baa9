import { Box, Button, Flex, Grid, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { figure, measure, number, type UnitSystem } from "../units/format";
import { CropCurve } from "./CropCurve";
import { CropEditor } from "./CropEditor";
import { useCrop, useDeleteCrop, type Crop } from "./queries";

/** One crop: its season drawn, every value with its source, and what differs from the book. */
export function CropPage() {
  const { crop: key = "" } = useParams();
  const { farm, units, may } = useSignedIn();
  const crop = useCrop(farm.slug, key);
  const remove = useDeleteCrop(farm.slug);
  const navigate = useNavigate();
  const [editing, setEditing] = useState(false);
  if (crop.isPending) return <Loading what="Opening the book" />;
  if (crop.error) return <Notice error={crop.error} />;
  const data = crop.data;
  const list = `/${farm.slug}/ground/crops`;
  return (
    <Box maxW="1280px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={list}>← Crops</Link>
      </Text>
      <Flex justify="space-between" gap="3" wrap="wrap" align="start">
        <Box>
          <Heading as="h2" size="2xl" fontWeight="700">
            {data.name}
          </Heading>
          <Text color="inkSoft" fontSize="sm">
            {data.own ? "the farm's own copy" : "of the book"} · {data.group} · {data.calendar}
            {data.perennial && " · perennial, begins anew each year"}
          </Text>
        </Box>
        {may("set_up_ground") && !editing && (
          <Flex gap="2">
            <Button size="sm" onClick={() => setEditing(true)}>
              {data.own ? "Change its values" : "Make a copy of our own"}
            </Button>
            {data.own && data.blocks === 0 && (
              <Button
                size="sm"
                variant="ghost"
                onClick={() => remove.mutate(key, { onSuccess: () => void navigate(list) })}
              >
                Remove
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

const VALUE_NAMES: Record<string, string> = {
  stage_days: "Stages, days",
  kc: "Kc start / mid / end",
  kcb: "Basal Kcb",
  height_m: "Height, m",
  surface: "Kc is on",
  root_initial_mm: "First roots, mm",
  root_schedule_mm: "Full roots, mm",
  root_deep_mm: "Deepest roots, mm",
  p: "p at 5 mm/day",
  tension_kpa: "Tension limit, kPa",
  salt: "Salt tolerance",
  degree_days: "Degree-days",
  canopy: "Kc is for",
};

function Differences({ crop }: { crop: Crop }) {
  return (
    <Box as="section" mt="4" aria-labelledby="differences">
      <Heading as="h3" id="differences" size="md">
        What differs from the book
      </Heading>
      {crop.reason && <Text fontSize="sm">{crop.reason}</Text>}
      <Table.Root size="sm" bg="transparent" mt="1">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">Value</Table.ColumnHeader>
            <Table.ColumnHeader>Ours</Table.ColumnHeader>
            <Table.ColumnHeader>The book's</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {crop.differences.map((d) => (
            <Table.Row key={d.value} bg="transparent">
              <Table.Cell px="0">{VALUE_NAMES[d.value] ?? d.value}</Table.Cell>
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
    ["Stages", `${crop.stage_days.join(" + ")} days`, "stage_days"],
    ["Kc start / mid / end", `${crop.kc.join(" / ")} on ${crop.surface} ET`, "kc"],
    [
      "Roots",
      `${deep(crop.root_initial_mm)} to ${deep(crop.root_schedule_mm)} ${depth}, at most ${deep(crop.root_deep_mm)}`,
      "root_depth",
    ],
    ["Height, full grown", `${deep(crop.height_m * 1000)} ${depth}`, "height_m"],
    ["p at 5 mm/day", number(crop.p, 2), "p"],
    ["Tension limit", crop.tension_kpa ? `${crop.tension_kpa} kPa` : "none", "tension_kpa"],
    [
      "Yield response, Ky",
      crop.ky_season === null
        ? "none"
        : `${crop.ky_season} over the season${crop.windows.map((w) => `; ${w.name} ${w.ky}`).join("")}`,
      "ky",
    ],
    [
      "Salt tolerance",
      crop.salt
        ? `ECe ${crop.salt.threshold_ds_m} dS/m, then −${crop.salt.slope_percent} % a dS/m`
        : "none",
      "salt",
    ],
    [
      "Degree-days",
      crop.degree_days
        ? `${crop.degree_days.stage_sums.join(" + ")} °C·d above ${crop.degree_days.base_c} °C${crop.degree_days.upper_c === null ? "" : `, below ${crop.degree_days.upper_c}`}, ${crop.degree_days.method}`
        : "none",
      "degree_days",
    ],
  ];
  if (crop.kcb) rows.splice(2, 0, ["Basal Kcb", crop.kcb.join(" / "), "kcb"]);
  if (crop.canopy) {
    rows.push([
      "Kc is for",
      `${number(crop.canopy.cover * 100, 0)} % cover, ${crop.canopy.height_m} m high`,
      "canopy",
    ]);
  }
  if (crop.cutting) {
    rows.push([
      "After a cut",
      `${crop.cutting.days.join(" + ")} days, Kc ${crop.cutting.kc.join(" / ")}${crop.cutting.kcb ? `, basal Kcb ${crop.cutting.kcb.join(" / ")}` : ""}`,
      "cutting",
    ]);
  }
  return rows;
}

function Values({ crop, units }: { crop: Crop; units: UnitSystem }) {
  return (
    <Table.Root size="sm" bg="transparent" aria-label="Values and sources">
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
