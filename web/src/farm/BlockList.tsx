import { Box, Button, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Term } from "../glossary/Term";
import { REFILL_METHOD_NAMES } from "../limits/words";
import { List, type Column } from "../list/List";
import type { Facet } from "../list/narrow";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { figure, measure, number, type UnitSystem } from "../units/format";
import { BulkSheet } from "./BulkSheet";
import { useBlockList, type BlockLine } from "./queries";
import { t } from "./t";

const FACETS: Facet<BlockLine>[] = [
  {
    label: t("farm.crop"),
    every: t("farm.allCrops"),
    of: (r) => r.crop ?? t("farm.noCrop"),
  },
  { label: t("farm.soil"), every: t("farm.allSoils"), of: (r) => r.soil },
  {
    label: t("farm.system"),
    every: t("farm.allSystems"),
    of: (r) => t(`system.${r.system}`),
  },
];

/** What a block is found by. */
const textOf = (r: BlockLine) =>
  [r.name, r.crop, r.soil, t(`system.${r.system}`), r.stage && t(`stage.${r.stage}`)].join(" ");

/** Every block with its crop, soil and limits; found, narrowed down, changed many at a time. */
export function BlockList() {
  const { farm, units, may } = useSignedIn();
  const list = useBlockList(farm.slug);
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  const [changing, setChanging] = useState<BlockLine[] | null>(null);
  if (list.isPending) return <Loading what={t("farm.loadingTheBlocks")} />;
  if (list.error) return <Notice error={list.error} retry={() => void list.refetch()} />;
  const all = list.data;
  const editable = may("set_up_ground");
  const summary = (shown: BlockLine[]) => {
    const chosen = shown.filter((r) => picked.has(r.id));
    return (
      <>
        <Text fontSize="sm" color="inkSoft">
          {shown.length === all.length
            ? t("farm.blocks2", { count: all.length })
            : t("farm.ofBlocks", { count: shown.length, count2: all.length })}
          , {figure(sum(shown), units, "area", 1)} {measure(units, "area").label}
        </Text>
        {editable && chosen.length > 0 && (
          <Button size="sm" onClick={() => setChanging(chosen)}>
            {t("farm.edit", { count: chosen.length })}
          </Button>
        )}
      </>
    );
  };
  return (
    <Box maxW="1400px">
      <List
        rows={all}
        keyOf={(r) => r.id}
        columns={columns(units, farm.slug)}
        find={{ label: t("farm.findABlock"), text: textOf }}
        facets={FACETS}
        picking={
          editable
            ? {
                label: t("farm.selectAllBlocksShown"),
                name: (r) => r.name,
                picked,
                change: setPicked,
              }
            : undefined
        }
        actions={
          editable && (
            <Button asChild size="sm" variant="outline">
              <Link to={`/${farm.slug}/new-block`}>{t("farm.newBlock")}</Link>
            </Button>
          )
        }
        summary={summary}
        noMatch={t("farm.noBlockMatchesClearTheSearchOr")}
      />
      {changing && (
        <BulkSheet
          blocks={changing}
          close={() => setChanging(null)}
          done={() => {
            setChanging(null);
            setPicked(new Set());
          }}
        />
      )}
    </Box>
  );
}

const sum = (rows: BlockLine[]) => rows.reduce((total, r) => total + r.area_m2, 0);

function columns(units: UnitSystem, slug: string): Column<BlockLine>[] {
  return [
    {
      key: "block",
      label: t("farm.block"),
      cell: (r) => (
        <Link
          to={`/${slug}/blocks/${r.id}/limits`}
          style={{ textDecoration: "underline", whiteSpace: "nowrap" }}
        >
          {r.name}
        </Link>
      ),
    },
    {
      key: "area",
      label: measure(units, "area").label,
      end: true,
      cell: (r) => <Area row={r} units={units} />,
    },
    {
      key: "crop",
      label: t("farm.crop"),
      cell: (r) => r.crop ?? <Text color="inkSoft">{t("farm.noCrop")}</Text>,
    },
    {
      key: "planted",
      label: t("farm.planted"),
      cell: (r) => <Text whiteSpace="nowrap">{r.planted_on ? shownDay(r.planted_on) : "–"}</Text>,
    },
    {
      key: "stage",
      label: t("farm.stage"),
      cell: (r) => (r.stage ? t(`stage.${r.stage}`) : "–"),
    },
    { key: "soil", label: t("farm.soil"), cell: (r) => r.soil },
    { key: "system", label: t("farm.system"), cell: (r) => <System row={r} /> },
    {
      key: "refill",
      label: t("farm.refillPointBy"),
      cell: (r) => (r.refill_method ? REFILL_METHOD_NAMES[r.refill_method] : "–"),
    },
    {
      key: "taw",
      label: (
        <>
          {t("farm.taw")}
          <Term of="taw" />
        </>
      ),
      end: true,
      cell: (r) => figure(r.taw_mm, units, "water"),
    },
    {
      key: "raw",
      label: (
        <Text as="span" whiteSpace="nowrap">
          {t("farm.raw", { label: measure(units, "water").label })}
          <Term of="raw" />
        </Text>
      ),
      end: true,
      cell: (r) => figure(r.raw_mm, units, "water"),
    },
  ];
}

function Area({ row, units }: { row: BlockLine; units: UnitSystem }) {
  const off = row.outline_m2 === null ? null : row.outline_m2 / row.area_m2 - 1;
  return (
    <>
      {figure(row.area_m2, units, "area", 1)}
      {off !== null && Math.abs(off) > 0.03 && (
        <Text fontSize="xs" color="rust" whiteSpace="nowrap">
          {t("farm.outline", {
            off: off > 0 ? "+" : "−",
            off2: number(Math.abs(off) * 100, 0),
          })}
        </Text>
      )}
    </>
  );
}

function System({ row }: { row: BlockLine }) {
  return (
    <>
      {t(`system.${row.system}`)}
      {row.wetted_share < 1 && (
        <Text fontSize="xs" color="inkSoft" whiteSpace="nowrap">
          {t("farm.wets", { wettedShare: number(row.wetted_share * 100, 0) })}
        </Text>
      )}
    </>
  );
}
