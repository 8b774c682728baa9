import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Question, Reason } from "../answer/types";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { withUnit } from "../units/format";
import { useGiveWater } from "../water/queries";
import type { BlockData } from "./queries";
import { t } from "./t";

/** What is safe to do until somebody knows. */
const SAFE_SIDE: Record<Question["kind"], string> = {
  water_not_logged: t("block.untilThisIsSettledCheckTheSoil"),
  water_did_not_come: t("block.untilThisIsSettledTreatTheBlock"),
};

interface Props {
  block: Pick<BlockData, "id" | "instruments">;
  question: Question;
  time: FarmTime;
}

function Way({ words, to }: { words: string; to: string }) {
  return (
    <Button size="sm" variant="outline" asChild>
      <Link to={to}>{words}</Link>
    </Button>
  );
}

/** Reasons that the question says already. */
export const ASKED: ReadonlySet<Reason> = new Set(["water_not_logged", "irrigation_fell_short"]);

/** The one question that settles a contradiction between the sensors and the log. */
export function Settle({ block, question, time }: Props) {
  const { farm, units, may } = useSignedIn();
  const give = useGiveWater(farm.slug);
  const first = new Date(question.first_at);
  const last = new Date(question.last_at);
  const depth = withUnit(question.gross_mm, units, "water");
  const between = t("block.betweenAnd", { first: time.full(first), last: time.full(last) });
  const unlogged = question.kind === "water_not_logged";
  const instrument = block.instruments[0];

  function log() {
    give.mutate({
      block_ids: [block.id],
      status: "done",
      started_at: question.first_at,
      ended_at: question.last_at,
      gross_mm: question.gross_mm,
      share: 1,
      note: t("block.addedFromTheSensors"),
    });
  }
  return (
    <Box
      as="section"
      aria-labelledby="settle"
      borderWidth="1px"
      borderColor="rust"
      rounded="md"
      p="3"
      my="2"
      maxW="820px"
    >
      <Heading as="h2" size="sm" id="settle">
        {unlogged
          ? t("block.wasThisBlockIrrigated", { between })
          : t("block.didTheIrrigationLoggedRun", { between })}
      </Heading>
      <Text fontSize="sm" mt="1">
        {unlogged
          ? `${t("block.theSensorsRoseAsIfAboutHad", { depth })} `
          : `${t("block.aboutOfItDidNotShowAt", { depth })} `}
        {SAFE_SIDE[question.kind]}
      </Text>
      <Flex gap="2" mt="2" wrap="wrap">
        {unlogged && may("log_water") && (
          <Button size="sm" onClick={log} loading={give.isPending}>
            {t("block.log", { depth })}
          </Button>
        )}
        {unlogged && <Way words={t("block.addRain")} to={`/${farm.slug}/irrigation/weather`} />}
        {!unlogged && <Way words={t("block.correctTheLog")} to={`/${farm.slug}/irrigation/log`} />}
        {instrument && (
          <Way
            words={
              unlogged ? t("block.noWaterWasAppliedReviewSensors") : t("block.itRanReviewSensors")
            }
            to={`/${farm.slug}/instruments/${instrument.id}`}
          />
        )}
      </Flex>
      {give.error && <Notice error={give.error} />}
    </Box>
  );
}
