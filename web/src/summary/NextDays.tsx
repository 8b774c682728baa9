import { Box, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { runningTime, waterShort } from "../units/format";
import { startWords } from "./DueList";
import type { SummaryLine } from "./queries";

/** What comes after today, a line each. */
export function NextDays({ lines, time }: { lines: SummaryLine[]; time: FarmTime }) {
  const { farm, units } = useSignedIn();
  return (
    <Box as="ul" listStyleType="none" p="0" m="0">
      {lines.map((line) => (
        <Text as="li" key={line.block_id} py="1">
          <Link to={`/${farm.slug}/blocks/${line.block_id}`}>{line.block}</Link>
          <Text as="span" color="inkSoft">
            {" "}
            {startWords(line, time)} · {runningTime(line.hours)} ·{" "}
            {waterShort(line.gross_mm, units)}
          </Text>
        </Text>
      ))}
    </Box>
  );
}
