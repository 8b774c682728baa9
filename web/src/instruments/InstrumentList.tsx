import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Tick } from "../form/Tick";
import { List, type Column } from "../list/List";
import type { Facet } from "../list/narrow";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { useFarmTime } from "../time/useFarmTime";
import { figure, measure, type UnitSystem } from "../units/format";
import { useInstruments, type Health } from "./queries";
import { TrustBar } from "./TrustBar";
import { concern, lastWord, worries } from "./words";
import { t } from "./t";

const FACETS: Facet<Health>[] = [
  { label: t("instruments.block"), every: t("instruments.allBlocks"), of: (r) => r.block },
  { label: t("instruments.kind"), every: t("instruments.allKinds"), of: (r) => r.kind_name },
];

/** What an instrument is found by. */
const textOf = (r: Health) => [r.label, r.block, r.kind_name, r.serial, r.site].join(" ");

/** Every instrument at a glance, those that need attention on top. */
export function InstrumentList() {
  const { farm, units } = useSignedIn();
  const rows = useInstruments(farm.slug);
  const time = useFarmTime();
  const [worriesOnly, setWorriesOnly] = useState(false);
  if (rows.isPending || !time) return <Loading what={t("instruments.loadingTheInstruments")} />;
  if (rows.error) return <Notice error={rows.error} retry={() => void rows.refetch()} />;
  const listed = rows.data
    .filter((r) => !worriesOnly || worries(r).length > 0)
    .toSorted((a, b) => concern(b) - concern(a));
  const summary = (shown: Health[]) => (
    <Text color="inkSoft" fontSize="sm" role="status">
      {t("instruments.ofInstrumentsNeedAttention", {
        count: shown.length,
        count2: rows.data.length,
        count3: rows.data.filter((r) => worries(r).length > 0).length,
      })}
    </Text>
  );
  return (
    <Box maxW="1240px">
      {rows.data.length === 0 ? (
        <>
          <Flex gap="2" justify="end">
            <Behind />
          </Flex>
          <Box py="6" maxW="60ch">
            <Heading as="h2" size="lg">
              {t("instruments.noInstrumentsYet")}
            </Heading>
            <Text mt="1">{t("instruments.openABlockAndChooseAddReadings")}</Text>
          </Box>
        </>
      ) : (
        <List
          rows={listed}
          keyOf={(r) => r.id}
          columns={columns(units, farm.slug, time)}
          find={{ label: t("instruments.findAnInstrument"), text: textOf }}
          facets={FACETS}
          tools={
            <Box pb="2">
              <Tick
                label={t("instruments.onlyThoseThatNeedAttention")}
                on={worriesOnly}
                change={setWorriesOnly}
              />
            </Box>
          }
          actions={<Behind />}
          summary={summary}
          noMatch={t("instruments.noInstrumentMatches")}
          isSoft={(r) => r.status === "retired"}
        />
      )}
    </Box>
  );
}

/** The pages behind the instruments. */
function Behind() {
  const { farm, may } = useSignedIn();
  return (
    <>
      {may("record_readings") && (
        <>
          <Button asChild size="sm" variant="outline">
            <Link to={`/${farm.slug}/farm/files`}>{t("instruments.files")}</Link>
          </Button>
          <Button asChild size="sm" variant="outline">
            <Link to={`/${farm.slug}/farm/data-received`}>{t("instruments.dataReceived")}</Link>
          </Button>
        </>
      )}
      <Button asChild size="sm" variant="outline">
        <Link to={`/${farm.slug}/farm/loggers`}>{t("instruments.loggers")}</Link>
      </Button>
    </>
  );
}

function columns(units: UnitSystem, slug: string, time: FarmTime): Column<Health>[] {
  return [
    {
      key: "instrument",
      label: t("instruments.instrument"),
      cell: (r) => (
        <>
          <Link to={`/${slug}/instruments/${r.id}`} style={{ textDecoration: "underline" }}>
            {r.label}
          </Link>
          <Text fontSize="xs" fontWeight="400" color="inkSoft">
            {r.kind_name}
            {r.depths_mm.length > 0 &&
              `, ${r.depths_mm.map((d) => figure(d, units, "depth")).join(" ")} ${measure(units, "depth").label}`}
          </Text>
        </>
      ),
    },
    {
      key: "block",
      label: t("instruments.block"),
      cell: (r) => <Link to={`/${slug}/blocks/${r.block_id}`}>{r.block}</Link>,
    },
    {
      key: "state",
      label: t("instruments.state"),
      cell: (r) => <Text whiteSpace="nowrap">{t(`status.${r.status}`)}</Text>,
    },
    {
      key: "last",
      label: t("instruments.lastReading"),
      cell: (r) => <Text whiteSpace="nowrap">{lastWord(r.last_at, time)}</Text>,
    },
    {
      key: "reliable",
      label: t("instruments.reliableThisWeek"),
      cell: (r) => <TrustBar share={r.trusted} />,
    },
    {
      key: "task",
      label: t("instruments.nextTask"),
      cell: (r) => <NextTask row={r} time={time} />,
    },
    {
      key: "attention",
      label: t("instruments.needsAttention"),
      cell: (r) => <Attention found={worries(r)} />,
    },
  ];
}

function NextTask({ row, time }: { row: Health; time: FarmTime }) {
  const task = row.next_task;
  if (!task) return <Text color="inkSoft">{t("instruments.none")}</Text>;
  return (
    <Box minW="180px" maxW="240px" whiteSpace="normal">
      {task.name}
      <Text fontSize="xs" color={task.overdue ? "rust" : "inkSoft"}>
        {task.due === null
          ? t("instruments.notRecordedYet")
          : t("instruments.overdueWasDueDue", {
              overdue: task.overdue ? "yes" : "no",
              dueDay: time.day(new Date(task.due)),
            })}
      </Text>
    </Box>
  );
}

function Attention({ found }: { found: string[] }) {
  return (
    <Text
      color={found.length > 0 ? "rust" : "inkSoft"}
      minW="180px"
      maxW="260px"
      whiteSpace="normal"
    >
      {found.length > 0 ? found.join("; ") : t("instruments.ok")}
    </Text>
  );
}
