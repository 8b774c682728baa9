import { Box, Grid, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { StateMark } from "../answer/StateMark";
import { actionWords, stateWords } from "../answer/words";
import type { FarmTime } from "../time/farmTime";
import type { UnitSystem } from "../units/format";
import type { BoardRow } from "./queries";
import { Ribbon } from "./Ribbon";

interface Props {
  row: BoardRow;
  slug: string;
  width: number;
  time: FarmTime;
  units: UnitSystem;
}

/** Columns shared by the axis and every line; on a phone the ribbon goes below the words. */
export const COLUMNS = { base: "24px 1fr", md: "200px 24px minmax(0, 1fr) 212px" };

/** One block: its name, its furrow, what to do. The whole line opens the block. */
export function BoardLine({ row, slug, width, time, units }: Props) {
  const state = stateWords(row.answer, time);
  const action = actionWords(row.answer, time, units);
  const late = row.answer.state === "past_refill";
  return (
    <Box
      as="li"
      borderBottomWidth="1px"
      borderColor="rule"
      listStyleType="none"
      css={{ contentVisibility: "auto", containIntrinsicSize: "auto 75px" }}
      _hover={{ bg: "sheet" }}
    >
      <Link
        to={`/${slug}/blocks/${row.id}`}
        className="board-line"
        aria-label={`${row.name}, ${row.crop ?? "no crop"}: ${state}; ${action}`}
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
              {row.crop ?? "No crop"}
              {row.answer.stage && ` · ${row.answer.stage}`}
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
                {row.crop ?? "No crop"}
              </Text>
            </Text>
            <Text fontWeight="700" color={late ? "rust" : "ink"} lineHeight="1.3">
              {state}
            </Text>
            <Text color="inkSoft" fontSize="sm" lineHeight="1.3">
              {action}
            </Text>
          </Box>
        </Grid>
      </Link>
    </Box>
  );
}
