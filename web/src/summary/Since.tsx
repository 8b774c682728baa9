import { Box, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { t } from "./t";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { waterShort } from "../units/format";
import type { Summary } from "./queries";

type Change = Schemas["Change"];

function when(at: string | null, time: FarmTime): string {
  return at === null ? "–" : time.full(new Date(at));
}

function changeWords(change: Change, time: FarmTime): string {
  return t(`change.${change.kind}`, {
    was: when(change.was_at, time),
    now: when(change.now_at, time),
  });
}

/** What yesterday's advice said otherwise, and the irrigation that ended since. */
export function Since({ summary, time }: { summary: Summary; time: FarmTime }) {
  const { farm, units } = useSignedIn();
  if (summary.changes.length + summary.applied.length === 0) {
    return <Text color="inkSoft">{t("summary.noChangeInTheAdviceAndNo")}</Text>;
  }
  return (
    <Box as="ul" listStyleType="none" p="0" m="0">
      {summary.changes.map((change) => (
        <Text as="li" key={`${change.block_id} ${change.kind}`} py="0.5">
          <Link to={`/${farm.slug}/blocks/${change.block_id}`}>{change.block}</Link>{" "}
          {changeWords(change, time)}
        </Text>
      ))}
      {summary.applied.map((set) => (
        <Text as="li" key={`${set.block_id} ${set.ended_at}`} py="0.5">
          <Link to={`/${farm.slug}/blocks/${set.block_id}`}>{set.block}</Link>{" "}
          {t("summary.wasIrrigatedWithUntil", {
            depth: waterShort(set.gross_mm, units),
            when: time.full(new Date(set.ended_at)),
          })}
        </Text>
      ))}
    </Box>
  );
}
