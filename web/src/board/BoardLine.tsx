import { Box, Grid, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { RegimeMark } from "../answer/RegimeMark";
import { StateMark } from "../answer/StateMark";
import { actionWords, plannedWords, stateWords } from "../answer/words";
import { decisionWords } from "../decide/words";
import type { FarmTime } from "../time/farmTime";
import { number, type UnitSystem } from "../units/format";
import type { Mark } from "../findings/queries";
import { LineActions, type Act } from "./LineActions";
import type { BoardRow } from "./queries";
import { Ribbon } from "./Ribbon";
import { t } from "./t";

interface Props {
  row: BoardRow;
  slug: string;
  width: number;
  time: FarmTime;
  units: UnitSystem;
  /** The costliest of what is wrong on it; none where nothing is. */
  mark: Mark | undefined;
  /** Not given to who may not decide. */
  act: Act | null;
}

/** Columns shared by the axis and every line; on a phone the ribbon goes below the words. */
export const COLUMNS = { base: "24px 1fr", md: "184px 24px minmax(0, 1fr) 222px" };
const LEAST_DELAY = 0.001;
/** Room for what can be done with a line, right of it. */
export const ACTIONS_PX = 124;

/** The costliest finding, and how many more there are. */
function markWords(mark: Mark): string {
  return mark.count > 1
    ? t("board.findingAndMore", { name: mark.name, count: mark.count - 1 })
    : mark.name;
}

/** What the next irrigation costs where it comes a day late; empty where that is next to nothing. */
function delayWords(answer: BoardRow["answer"]): string {
  const share = answer.at_risk?.delay_share ?? 0;
  return share < LEAST_DELAY ? "" : t("board.aDayLate", { share: number(share * 100, 1) });
}

/** One block: its name, its furrow, what to do. The line opens the block. */
export function BoardLine({ row, slug, width, time, units, mark, act }: Props) {
  const state = stateWords(row.answer, time);
  const planned = plannedWords(row.sets, time, units);
  const declined = row.decision?.kind === "declined";
  const action = planned ?? actionWords(row.answer, time, units);
  const delay = delayWords(row.answer);
  const late = row.answer.state === "below_refill";
  return (
    <Box
      as="li"
      display={{ base: "block", md: "grid" }}
      gridTemplateColumns={act ? `minmax(0, 1fr) ${ACTIONS_PX}px` : "minmax(0, 1fr)"}
      columnGap="3"
      alignItems="center"
      borderBottomWidth="1px"
      borderColor="rule"
      listStyleType="none"
      css={{ contentVisibility: "auto", containIntrinsicSize: "auto 75px" }}
      _hover={{ bg: "sheet" }}
    >
      <Link
        to={`/${slug}/blocks/${row.id}`}
        className="board-line"
        data-block={row.id}
        aria-label={[
          `${row.name}, ${row.crop ?? t("board.noCrop2")}: ${state}; ${action}`,
          mark && markWords(mark),
        ]
          .filter(Boolean)
          .join("; ")}
      >
        <Grid
          templateColumns={COLUMNS}
          templateAreas={{
            base: `"mark words" "ribbon ribbon"`,
            md: `"name mark ribbon words"`,
          }}
          alignItems="center"
          columnGap={{ base: "2", md: "3" }}
          py={{ base: "2", md: "0.5" }}
        >
          <Box gridArea="name" minW="0" display={{ base: "none", md: "block" }}>
            <Text fontFamily="heading" fontWeight="650" fontSize="md" truncate>
              {row.name}
            </Text>
            <Text color="inkSoft" fontSize="sm" truncate>
              <RegimeMark regime={row.answer.regime} />
              {row.crop ?? t("board.noCrop")}
              {row.answer.stage && ` · ${t(`stage.${row.answer.stage}`)}`}
            </Text>
          </Box>
          <Box gridArea="mark">
            <StateMark state={row.answer.state} />
          </Box>
          <Box gridArea="ribbon" mt={{ base: "1", md: "0" }}>
            {width > 0 && <Ribbon row={row} width={width} height={66} time={time} units={units} />}
          </Box>
          <Box gridArea="words" minW="0">
            <Text
              fontFamily="heading"
              fontWeight="650"
              fontSize="sm"
              display={{ base: "block", md: "none" }}
            >
              {row.name}
              <Text as="span" color="inkSoft" fontFamily="body" fontWeight="400">
                {" "}
                <RegimeMark regime={row.answer.regime} />
                {row.crop ?? t("board.noCrop")}
              </Text>
            </Text>
            <Text fontWeight="700" color={late ? "rust" : "ink"} lineHeight="1.3">
              {state}
            </Text>
            <Text color="inkSoft" fontSize="sm" lineHeight="1.3">
              {action}
            </Text>
            {row.answer.reasons.includes("may_be_the_last") && (
              <Text color="inkSoft" fontSize="xs" lineHeight="1.3">
                {t("board.mayBeTheLast")}
              </Text>
            )}
            {delay && (
              <Text color="inkSoft" fontSize="xs" lineHeight="1.3">
                {delay}
              </Text>
            )}
            {mark && (
              <Text color="rust" fontSize="xs" lineHeight="1.3" lineClamp={2}>
                <span aria-hidden="true">⚑ </span>
                {markWords(mark)}
              </Text>
            )}
            {declined && row.decision && (
              <Text color="inkSoft" fontSize="xs" lineHeight="1.3" lineClamp={2}>
                {decisionWords(row.decision)}
              </Text>
            )}
          </Box>
        </Grid>
      </Link>
      {act && <LineActions row={row} act={act} />}
    </Box>
  );
}
