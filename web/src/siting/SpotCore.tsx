import { Box, Button, Flex, Grid, Heading, Table, Text } from "@chakra-ui/react";
import { useState, type SyntheticEvent } from "react";
import { Link } from "react-router";
import { Notice } from "../app/Notice";
import { DateLine } from "../form/DateLine";
import { Choice, Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { useTextures } from "../soils/queries";
import { shownDay } from "../time/enteredDate";
import { figure, measure, typed, withUnit } from "../units/format";
import { useRecordCore, type SpotRecord, type SpotSheet, type SpotSoil } from "./queries";
import { t } from "./t";
import { typedNumber } from "../form/typedNumber";

interface Row {
  bottom: string;
  texture: string;
  gravel: string;
  organic: string;
  ece: string;
}

const EMPTY: Row = { bottom: "", texture: "loam", gravel: "", organic: "", ece: "" };

/** The soil core of a spot beside the soil that was expected; recorded as a soil of the library. */
export function SpotCore({ sheet, record }: { sheet: SpotSheet; record: SpotRecord }) {
  const { farm, may } = useSignedIn();
  const [open, setOpen] = useState(false);
  return (
    <Box as="section" mt="7">
      <Heading as="h2" size="md">
        {t("siting.core")}
      </Heading>
      <Flex gap="8" wrap="wrap" mt="1">
        {sheet.expected && (
          <Soil
            title={
              sheet.expected.surveyed
                ? t("siting.expectedBySurvey")
                : sheet.expected.of_zone
                  ? t("siting.expectedByZone")
                  : t("siting.expectedOfBlock")
            }
            soil={sheet.expected}
          />
        )}
        {record.soil && record.core_on && (
          <Soil title={t("siting.seenOn", { day: shownDay(record.core_on) })} soil={record.soil} />
        )}
      </Flex>
      {record.soil && (
        <Text fontSize="sm" mt="1">
          <Link to={`/${farm.slug}/farm/soils/${record.soil.id}`}>
            {t("siting.describeInFull")}
          </Link>
        </Text>
      )}
      {may("set_up_ground") && !open && (
        <Button size="sm" variant="outline" mt="2" onClick={() => setOpen(true)}>
          {t("siting.recordCore")}
        </Button>
      )}
      {open && <CoreForm sheet={sheet} close={() => setOpen(false)} />}
    </Box>
  );
}

function Soil({ title, soil }: { title: string; soil: SpotSoil }) {
  const { units } = useSignedIn();
  return (
    <Box>
      <Text fontSize="sm" color="inkSoft">
        {title}
      </Text>
      <Text fontWeight="600">{soil.name}</Text>
      {soil.horizons.map((h) => (
        <Text key={h.top_mm} fontSize="sm">
          {figure(h.top_mm, units, "depth")}–{withUnit(h.bottom_mm, units, "depth", 0)}{" "}
          {t(`texture.${h.texture}`)}
        </Text>
      ))}
    </Box>
  );
}

function CoreForm({ sheet, close }: { sheet: SpotSheet; close: () => void }) {
  const { farm, units } = useSignedIn();
  const save = useRecordCore(farm.slug, sheet.spot.id);
  const textures = useTextures();
  const names = [...new Set((textures.data?.triangle ?? []).map((p) => p.texture))];
  const [day, setDay] = useState("");
  const [rows, setRows] = useState<Row[]>([EMPTY, EMPTY]);
  const [name, setName] = useState("");
  const [forBlock, setForBlock] = useState(false);
  const [describes, setDescribes] = useState(false);
  const problems = problemsOf(save.error);
  const told = rows.filter((r) => r.bottom.trim() !== "");
  const put = (place: number, part: Partial<Row>) =>
    setRows(rows.map((r, i) => (i === place ? { ...r, ...part } : r)));

  function submit(event: SyntheticEvent) {
    event.preventDefault();
    let top = 0;
    const horizons = told.map((r) => {
      const bottom = typed(r.bottom, units, "depth") ?? 0;
      const horizon = {
        top_mm: top,
        bottom_mm: bottom,
        texture: r.texture as (typeof names)[number],
        gravel: typedNumber(r.gravel) ?? 0,
        organic_matter: typedNumber(r.organic) ?? 1.5,
        ece: typedNumber(r.ece),
      };
      top = bottom;
      return horizon;
    });
    save.mutate(
      {
        taken_on: day,
        horizons: horizons as Parameters<typeof save.mutate>[0]["horizons"],
        name: describes ? "" : name,
        describes: describes ? (sheet.expected?.id ?? null) : null,
        for_block: forBlock,
        note: "",
      },
      { onSuccess: close },
    );
  }

  return (
    <Box as="form" onSubmit={submit} mt="3" maxW="760px">
      <Text fontSize="sm" color="rust" mb="2">
        {t("siting.cautionAuger")}
      </Text>
      <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="3">
        <DateLine
          label={t("siting.coreOn")}
          value={day}
          change={setDay}
          error={problems["taken_on"]}
        />
        {!describes && (
          <Line
            label={t("siting.nameOfSoil")}
            value={name}
            change={setName}
            placeholder={`${sheet.block}, ${sheet.spot.name}`}
            error={problems["name"]}
          />
        )}
      </Grid>
      <Table.ScrollArea tabIndex={0} mt="3">
        <Table.Root size="sm" bg="transparent">
          <Table.Body>
            {rows.map((row, i) => (
              // oxlint-disable-next-line react/no-array-index-key
              <Table.Row key={i} bg="transparent" verticalAlign="top">
                <Table.Cell px="0">
                  <Line
                    label={t("siting.downTo")}
                    unit={measure(units, "depth").label}
                    value={row.bottom}
                    change={(bottom) => put(i, { bottom })}
                    error={problems[`horizons.${i}.bottom_mm`]}
                    numeric
                  />
                </Table.Cell>
                <Table.Cell minW="170px">
                  <Choice
                    label={t("siting.texture")}
                    value={row.texture}
                    change={(texture) => put(i, { texture })}
                    error={problems[`horizons.${i}.texture`]}
                  >
                    {names.map((one) => (
                      <option key={one} value={one}>
                        {t(`texture.${one}`)}
                      </option>
                    ))}
                  </Choice>
                </Table.Cell>
                <Table.Cell>
                  <Line
                    label={t("siting.gravel")}
                    unit="%"
                    value={row.gravel}
                    change={(gravel) => put(i, { gravel })}
                    error={problems[`horizons.${i}.gravel`]}
                    numeric
                  />
                </Table.Cell>
                <Table.Cell>
                  <Line
                    label={t("siting.organicMatter")}
                    unit="%"
                    value={row.organic}
                    placeholder="1.5"
                    change={(organic) => put(i, { organic })}
                    error={problems[`horizons.${i}.organic_matter`]}
                    numeric
                  />
                </Table.Cell>
                <Table.Cell px="0">
                  <Line
                    label="ECe"
                    unit="dS/m"
                    value={row.ece}
                    change={(ece) => put(i, { ece })}
                    error={problems[`horizons.${i}.ece`]}
                    numeric
                  />
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      <Button
        size="xs"
        variant="outline"
        type="button"
        onClick={() => setRows([...rows, { ...EMPTY }])}
      >
        {t("siting.addHorizon")}
      </Button>
      <Box mt="3">
        {sheet.expected?.surveyed && (
          <Tick
            label={t("siting.describesSurveyed", { soil: sheet.expected.name })}
            on={describes}
            change={setDescribes}
          />
        )}
        <Tick
          label={t("siting.blockStandsOnIt", { block: sheet.block })}
          on={forBlock}
          change={setForBlock}
        />
      </Box>
      <Flex gap="3" mt="3">
        <Button
          type="submit"
          size="sm"
          loading={save.isPending}
          disabled={day === "" || told.length === 0}
        >
          {t("siting.saveCore")}
        </Button>
        <Button size="sm" variant="ghost" type="button" onClick={close}>
          {t("siting.cancel")}
        </Button>
      </Flex>
      {save.error && <Notice error={save.error} />}
    </Box>
  );
}
