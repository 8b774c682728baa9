import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { lazy, Suspense, useCallback, useEffect, useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { isTyping } from "../app/typing";
import type { Change } from "../decide/DecideSheet";
import { useDecide, useTakeBack } from "../decide/queries";
import { useWidth } from "../draw/useWidth";
import { useFindingMarks } from "../findings/queries";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { runningTime } from "../units/format";
import { Axis } from "./Axis";
import { ACTIONS_PX, BoardLine, COLUMNS } from "./BoardLine";
import { BoardTools } from "./BoardTools";
import { EtStatement } from "./EtStatement";
import { fitting, grouped, queryOf, wantedOf, type Wanted } from "./filter";
import { headline, hoursDue } from "./headline";
import { canGive, isDue, type Act, type Deed } from "./LineActions";
import { useBoard, type BoardRow } from "./queries";
import { Checklist } from "../checklist/Checklist";
import { t } from "./t";

const DecideSheet = lazy(() =>
  import("../decide/DecideSheet").then((found) => ({ default: found.DecideSheet })),
);
const AcceptSheet = lazy(() =>
  import("../decide/AcceptSheet").then((found) => ({ default: found.AcceptSheet })),
);

const DEED_KEYS: Record<string, Deed> = { a: "accept", e: "change", x: "decline", z: "undo" };

/** j and k walk the lines; Enter follows the focused one, as links do; a, e, x and z act on it. */
function useLineKeys(deed: ((block: number, deed: Deed) => void) | null) {
  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "f") {
        event.preventDefault();
        document.getElementById("find-block")?.focus();
        return;
      }
      const lines = [...document.querySelectorAll<HTMLElement>("a.board-line")];
      const at = lines.findIndex((l) => l === document.activeElement);
      const wanted = DEED_KEYS[event.key];
      if (wanted && deed && at >= 0) {
        event.preventDefault();
        deed(Number(lines[at]?.dataset["block"]), wanted);
        return;
      }
      const step = { j: 1, ArrowDown: 1, k: -1, ArrowUp: -1 }[event.key];
      if (!step) return;
      if (at < 0 && event.key.startsWith("Arrow")) return;
      event.preventDefault();
      const next = at < 0 ? 0 : Math.min(Math.max(at + step, 0), lines.length - 1);
      lines[next]?.focus();
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [deed]);
}

/** Acts on lines: at once where nothing needs to be asked, by a sheet where it does. */
function useActs(slug: string) {
  const decide = useDecide(slug);
  const back = useTakeBack(slug);
  const [asked, setAsked] = useState<{ row: BoardRow; change: Change } | null>(null);
  const { mutate: accept } = decide;
  const { mutate: takeBack } = back;
  const act = useCallback<Act>(
    (row, deed) => {
      if (deed === "undo") {
        if (row.decision) takeBack(row.decision.id);
      } else if (row.decision) return;
      else if (deed === "accept") {
        if (canGive(row)) accept({ block: row.id, body: { kind: "accepted", reason: "" } });
      } else setAsked({ row, change: deed === "change" ? "changed" : "declined" });
    },
    [accept, takeBack],
  );
  return { act, asked, close: () => setAsked(null), error: decide.error ?? back.error };
}

/** The furrow board: every block on one time axis, who runs dry first on top. */
export function Board() {
  const { farm, units, may } = useSignedIn();
  const board = useBoard(farm.slug);
  const found = useFindingMarks(farm.slug);
  const marks = useMemo(() => new Map(found.data?.map((m) => [m.block_id, m])), [found.data]);
  const [measure, width] = useWidth();
  const [query, setQuery] = useSearchParams();
  const [wanted, setWanted] = useState(() => wantedOf(query));
  // The address follows what is chosen, so that it can be kept and sent; typing does not wait.
  function want(next: Wanted) {
    setWanted(next);
    setQuery(queryOf(next), { replace: true });
  }
  const [many, setMany] = useState(false);
  const acts = useActs(farm.slug);
  const rows = useMemo(() => fitting(board.data?.rows ?? [], wanted), [board.data, wanted]);
  const decides = may("decide");
  const { act } = acts;
  const byKey = useCallback(
    (block: number, deed: Deed) => {
      const row = rows.find((r) => r.id === block);
      if (row) act(row, deed);
    },
    [rows, act],
  );
  useLineKeys(decides ? byKey : null);
  const time = useMemo(
    () => (board.data ? new FarmTime(board.data.now, board.data.time_zone) : null),
    [board.data],
  );

  if (board.isPending) return <Loading what={t("board.loadingTheBoard")} />;
  if (board.error) return <Notice error={board.error} retry={() => void board.refetch()} />;
  if (!time) return null;
  const { rows: all, et, rain, rain_ahead: rainAhead } = board.data;
  const hours = hoursDue(all);
  const due = rows.filter(isDue);

  if (all.length === 0) {
    return (
      <Box maxW="860px" py="6">
        <Heading as="h1" size="2xl">
          {t("board.noBlocksYet")}
        </Heading>
        <Text mt="2" mb="4" maxW="60ch">
          {t("board.aBlockIsAPieceOfLand")}
        </Text>
        <Checklist />
      </Box>
    );
  }

  return (
    <Box maxW="1800px">
      <Checklist />
      <Flex justify="space-between" align="start" gap="4" wrap="wrap">
        <Box minW="0">
          <Heading as="h1" size={{ base: "lg", md: "2xl" }} fontWeight="700">
            {headline(all)}
          </Heading>
          <Text color="inkSoft" fontSize="sm">
            {time.full(time.now)}
            {hours > 0 && ` ${t("board.ofIrrigationDueWithinADay", { hours: runningTime(hours) })}`}
          </Text>
          <EtStatement et={et} rainAhead={rainAhead} ratio={board.data.alfalfa_ratio} />
        </Box>
        <Flex gap="2" wrap="wrap">
          {decides && due.length > 1 && (
            <Button size="sm" onClick={() => setMany(true)}>
              {t("board.scheduleAllDue", { count: due.length })}
            </Button>
          )}
          {may("set_up_ground") && (
            <Button asChild size="sm" variant="outline">
              <Link to={`/${farm.slug}/new-block`}>{t("board.newBlock")}</Link>
            </Button>
          )}
        </Flex>
      </Flex>
      {all.length > 3 && (
        <BoardTools rows={all} shown={rows.length} wanted={wanted} change={want} />
      )}
      {acts.error && <Notice error={acts.error} />}
      <Grid
        templateColumns={COLUMNS}
        templateAreas={{ base: `"ribbon ribbon"`, md: `"name mark ribbon words"` }}
        columnGap={{ base: "2", md: "3" }}
        mt="3"
        pe={{ base: "0", md: decides ? `calc(${ACTIONS_PX}px + 12px)` : "0" }}
        borderBottomWidth="1px"
        borderColor="rule"
        position="sticky"
        top="0"
        bg="paper"
        zIndex="4"
      >
        <Box gridArea="ribbon" ref={measure}>
          {width > 0 && (
            <Axis width={width} time={time} rain={rain} rainAhead={rainAhead} units={units} />
          )}
        </Box>
      </Grid>
      {rows.length === 0 && <Text py="6">{t("board.noBlockMatchesClearTheSearchOr")}</Text>}
      {grouped(rows, wanted.group).map((group) => (
        <Box as="section" key={group.name} aria-label={group.name || t("board.blocks")}>
          {group.name && (
            <Heading as="h2" size="sm" mt="4" mb="1" color="inkSoft">
              {group.name}
            </Heading>
          )}
          <Box as="ul" p="0" m="0">
            {group.rows.map((row) => (
              <BoardLine
                key={row.id}
                row={row}
                slug={farm.slug}
                width={width}
                time={time}
                units={units}
                mark={marks.get(row.id)}
                act={decides ? act : null}
              />
            ))}
          </Box>
        </Box>
      ))}
      <Text color="inkSoft" fontSize="sm" mt="3">
        {t("board.theBandIsTheUsableWaterAbove")}
      </Text>
      <Suspense fallback={null}>
        {acts.asked && (
          <DecideSheet
            block={acts.asked.row}
            time={time}
            start={acts.asked.change}
            close={acts.close}
          />
        )}
        {many && <AcceptSheet rows={due} time={time} close={() => setMany(false)} />}
      </Suspense>
    </Box>
  );
}
