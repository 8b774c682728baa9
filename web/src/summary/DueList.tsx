import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { StateMark } from "../answer/StateMark";
import { decisionWords } from "../decide/words";
import { t } from "./t";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { runningTime, waterShort, withUnit } from "../units/format";
import type { SummaryLine } from "./queries";

interface Props {
  lines: SummaryLine[];
  time: FarmTime;
}

/** When it starts: as scheduled, or the latest it should. */
export function startWords(line: SummaryLine, time: FarmTime): string {
  if (line.scheduled?.status === "running") {
    return t("summary.runningUntil", { when: clock(line.scheduled.ends_at, time) });
  }
  if (line.scheduled) {
    return t("summary.scheduled", { when: clock(line.scheduled.starts_at, time) });
  }
  if (line.start_at === null || time.hoursTo(line.start_at) < 0.5) return t("summary.startNow");
  return t("summary.startBy", { when: clock(line.start_at, time) });
}

function clock(at: string, time: FarmTime): string {
  const moment = new Date(at);
  return `${time.day(moment)} ${time.clock(moment)}`;
}

/** Blocks to irrigate today, in the order of their starts. */
export function DueList({ lines, time }: Props) {
  const { farm, units } = useSignedIn();
  return (
    <Box as="ol" listStyleType="none" p="0" m="0">
      {lines.map((line) => (
        <Grid
          key={line.block_id}
          as="li"
          templateColumns={{ base: "24px 1fr", md: "24px minmax(0, 1fr) 190px 190px" }}
          columnGap="3"
          py="2"
          borderBottomWidth="1px"
          borderColor="rule"
        >
          <Box pt="0.5">
            <StateMark state={line.state} />
          </Box>
          <Box minW="0">
            <Text fontWeight="650" fontFamily="heading">
              <Link to={`/${farm.slug}/blocks/${line.block_id}`}>{line.block}</Link>
              <Text as="span" color="inkSoft" fontFamily="body" fontWeight="400">
                {" "}
                {line.crop ?? t("summary.noCrop")}
              </Text>
            </Text>
            <Text fontWeight="600" color={line.state === "below_refill" ? "rust" : "ink"}>
              {t(`state.${line.state}`)}
            </Text>
            {line.why.map((reason) => (
              <Text key={reason} fontSize="sm" color="inkSoft">
                {t(`reason.${reason}`)}
              </Text>
            ))}
            {line.decision && (
              <Text fontSize="sm" color="inkSoft">
                {decisionWords(line.decision)}
              </Text>
            )}
          </Box>
          <Box gridColumn={{ base: "2", md: "auto" }}>
            <Text fontWeight="600" _firstLetter={{ textTransform: "uppercase" }}>
              {startWords(line, time)}
            </Text>
            <Text color="inkSoft" fontSize="sm">
              {[line.supply, line.irrigator].filter(Boolean).join(" · ")}
            </Text>
          </Box>
          <Flex
            gridColumn={{ base: "2", md: "auto" }}
            direction={{ base: "row", md: "column" }}
            columnGap="3"
            wrap="wrap"
            textAlign={{ md: "end" }}
          >
            <Text>{runningTime(line.hours)}</Text>
            <Text color="inkSoft" fontSize="sm">
              {waterShort(line.gross_mm, units)} · {withUnit(line.volume_m3, units, "volume")}
            </Text>
          </Flex>
        </Grid>
      ))}
    </Box>
  );
}
