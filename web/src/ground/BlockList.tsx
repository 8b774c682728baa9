import { Box, Button, Flex, Grid, Table, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Choice, Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { REFILL_METHOD_NAMES } from "../limits/words";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import { BulkSheet } from "./BulkSheet";
import { ALL, choices, fitting } from "./filter";
import { useBlockList, type BlockLine } from "./queries";
import { Term } from "../glossary/Term";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

/** Every block with its crop, soil and limits; found, narrowed down, changed many at a time. */
export function BlockList() {
  const { farm, units, may } = useSignedIn();
  const list = useBlockList(farm.slug);
  const [wanted, setWanted] = useState(ALL);
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  const [changing, setChanging] = useState(false);
  const rows = useMemo(() => fitting(list.data ?? [], wanted), [list.data, wanted]);
  if (list.isPending) return <Loading what={t("ground.loadingTheBlocks")} />;
  if (list.error) return <Notice error={list.error} retry={() => void list.refetch()} />;
  const all = list.data;
  const editable = may("set_up_ground");
  const shown = rows.filter((r) => picked.has(r.id));
  const every = rows.length > 0 && shown.length === rows.length;

  const toggle = (id: number, on: boolean) => {
    const next = new Set(picked);
    if (on) next.add(id);
    else next.delete(id);
    setPicked(next);
  };
  return (
    <Box maxW="1400px">
      <Grid
        templateColumns={{ base: "1fr 1fr", md: "1.4fr 1fr 1fr 1fr auto" }}
        gap="3"
        alignItems="end"
        mb="3"
      >
        <Line
          label={t("ground.findABlock")}
          type="search"
          value={wanted.search}
          change={(search) => setWanted({ ...wanted, search })}
        />
        <Choice
          label={t("ground.crop")}
          value={wanted.crop}
          change={(crop) => setWanted({ ...wanted, crop })}
        >
          <option value="">{t("ground.allCrops")}</option>
          {choices(all, (r) => r.crop ?? t("ground.noCrop")).map((c) => (
            <option key={c}>{c}</option>
          ))}
        </Choice>
        <Choice
          label={t("ground.soil")}
          value={wanted.soil}
          change={(soil) => setWanted({ ...wanted, soil })}
        >
          <option value="">{t("ground.allSoils")}</option>
          {choices(all, (r) => r.soil).map((c) => (
            <option key={c}>{c}</option>
          ))}
        </Choice>
        <Choice
          label={t("ground.system")}
          value={wanted.system}
          change={(system) => setWanted({ ...wanted, system })}
        >
          <option value="">{t("ground.allSystems")}</option>
          {choices(all, (r) => r.system).map((c) => (
            <option key={c} value={c}>
              {t(`system.${c}`)}
            </option>
          ))}
        </Choice>
        {editable && (
          <Button asChild size="sm" variant="outline">
            <Link to={`/${farm.slug}/new-block`}>{t("ground.newBlock")}</Link>
          </Button>
        )}
      </Grid>
      <Flex gap="4" align="center" mb="2" minH="32px" aria-live="polite">
        <Text fontSize="sm" color="inkSoft">
          {rows.length === all.length
            ? t("ground.blocks2", { count: all.length })
            : t("ground.ofBlocks", { count: rows.length, count2: all.length })}
          , {figure(sum(rows), units, "area", 1)} {measure(units, "area").label}
        </Text>
        {editable && shown.length > 0 && (
          <Button size="sm" onClick={() => setChanging(true)}>
            {t("ground.edit", { count: shown.length })}
          </Button>
        )}
      </Flex>
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              {editable && (
                <Table.ColumnHeader px="0" w="34px" minW="34px">
                  <Tick
                    hideLabel
                    label={t("ground.selectAllBlocksShown")}
                    on={every}
                    change={(on) => setPicked(new Set(on ? rows.map((r) => r.id) : []))}
                  />
                </Table.ColumnHeader>
              )}
              <Table.ColumnHeader px="0">{t("ground.block")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {measure(units, "area").label}
              </Table.ColumnHeader>
              <Table.ColumnHeader>{t("ground.crop")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("ground.planted")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("ground.stage")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("ground.soil")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("ground.system")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("ground.refillPointBy")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("ground.taw")}
                <Term of="taw" />
              </Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end" whiteSpace="nowrap">
                {t("ground.raw", { label: measure(units, "water").label })}
                <Term of="raw" />
              </Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {rows.map((r) => (
              <Row
                key={r.id}
                row={r}
                slug={farm.slug}
                on={picked.has(r.id)}
                toggle={editable ? toggle : null}
              />
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      {rows.length === 0 && <Text mt="3">{t("ground.noBlockMatchesClearTheSearchOr")}</Text>}
      {changing && (
        <BulkSheet
          blocks={shown}
          close={() => setChanging(false)}
          done={() => {
            setChanging(false);
            setPicked(new Set());
          }}
        />
      )}
    </Box>
  );
}

const sum = (rows: BlockLine[]) => rows.reduce((total, r) => total + r.area_m2, 0);

interface RowProps {
  row: BlockLine;
  slug: string;
  on: boolean;
  toggle: ((id: number, on: boolean) => void) | null;
}

function Row({ row, slug, on, toggle }: RowProps) {
  const { units } = useSignedIn();
  const off = row.outline_m2 === null ? null : row.outline_m2 / row.area_m2 - 1;
  return (
    <Table.Row bg={on ? "bedAhead" : "transparent"}>
      {toggle && (
        <Table.Cell px="0">
          <Tick hideLabel label={row.name} on={on} change={(v) => toggle(row.id, v)} />
        </Table.Cell>
      )}
      <Table.Cell px="0" fontWeight="600" whiteSpace="nowrap">
        <Link to={`/${slug}/blocks/${row.id}/limits`} style={{ textDecoration: "underline" }}>
          {row.name}
        </Link>
      </Table.Cell>
      <Table.Cell textAlign="end">
        {figure(row.area_m2, units, "area", 1)}
        {off !== null && Math.abs(off) > 0.03 && (
          <Text fontSize="xs" color="rust" whiteSpace="nowrap">
            {t("ground.outline", {
              off: off > 0 ? "+" : "−",
              off2: number(Math.abs(off) * 100, 0),
            })}
          </Text>
        )}
      </Table.Cell>
      <Table.Cell>{row.crop ?? <Text color="inkSoft">{t("ground.noCrop")}</Text>}</Table.Cell>
      <Table.Cell whiteSpace="nowrap">{row.planted_on ? shownDay(row.planted_on) : "–"}</Table.Cell>
      <Table.Cell>{row.stage ? t(`stage.${row.stage}`) : "–"}</Table.Cell>
      <Table.Cell>{row.soil}</Table.Cell>
      <Table.Cell>
        {t(`system.${row.system}`)}
        {row.wetted_share < 1 && (
          <Text fontSize="xs" color="inkSoft" whiteSpace="nowrap">
            {t("ground.wets", { wettedShare: number(row.wetted_share * 100, 0) })}
          </Text>
        )}
      </Table.Cell>
      <Table.Cell>{row.refill_method ? REFILL_METHOD_NAMES[row.refill_method] : "–"}</Table.Cell>
      <Table.Cell textAlign="end">{figure(row.taw_mm, units, "water")}</Table.Cell>
      <Table.Cell textAlign="end">{figure(row.raw_mm, units, "water")}</Table.Cell>
    </Table.Row>
  );
}
