import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import { LinkButton } from "../app/LinkButton";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { OutboxLine } from "./OutboxLine";
import { RoundSheet } from "./RoundSheet";
import { useRounds, type Round } from "./queries";
import { useVisits } from "./useVisits";
import { dueWord } from "./words";
import { t } from "./t";

/** The farm's rounds, and what waits on this phone. */
export function RoundList() {
  const { farm, may } = useSignedIn();
  const rounds = useRounds(farm.slug);
  const outbox = useVisits(farm.slug);
  const [editing, setEditing] = useState<Round | "new" | null>(null);
  const time = useMemo(
    () => rounds.data && new FarmTime(rounds.data.now, rounds.data.time_zone),
    [rounds.data],
  );
  if (rounds.isPending) return <Loading what={t("rounds.loadingTheRounds")} />;
  if (rounds.error) return <Notice error={rounds.error} retry={() => void rounds.refetch()} />;
  return (
    <Box maxW="760px">
      <Flex justify="space-between" align="baseline" gap="3" wrap="wrap">
        <Heading as="h1" size="2xl" fontWeight="700">
          {t("rounds.rounds")}
        </Heading>
        <OutboxLine outbox={outbox} />
      </Flex>
      <Text color="inkSoft" mb="4">
        {t("rounds.openThisPageOnceWhereThereIs")}
      </Text>
      {outbox.trouble && <Text color="strawInk">{outbox.trouble}</Text>}
      {outbox.waiting
        .filter((u) => u.refused)
        .map((u) => (
          <Box
            key={u.key}
            role="alert"
            bg="bg.error"
            borderLeftWidth="3px"
            borderColor="rust"
            p="3"
          >
            <Text fontWeight="600">{t("rounds.wasNotAccepted", { label: u.label })}</Text>
            <Text fontSize="sm">
              {t("rounds.theServerSaid", {
                refused: u.refused,
                map: u.visit.values.map((v) => `${v.value} ${u.visit.unit ?? ""}`).join(", "),
              })}
            </Text>
            <LinkButton onClick={() => void outbox.drop(u.key)}>{t("rounds.discard")}</LinkButton>
          </Box>
        ))}
      {rounds.data.rounds.length === 0 && (
        <Text py="6">
          {t("rounds.thereIsNoRoundYet", { may: may("set_up_ground") ? "yes" : "no" })}
        </Text>
      )}
      {rounds.data.rounds.map((r) => (
        <Flex
          key={r.id}
          justify="space-between"
          align="center"
          gap="3"
          py="3"
          borderBottomWidth="1px"
          borderColor="rule"
        >
          <Box>
            <Heading as="h2" size="lg">
              {r.name}
            </Heading>
            <Text color="inkSoft" fontSize="sm">
              {t("rounds.stopsEveryDays", { count: r.stops.length, every: r.every_days })}
              {time && `; ${dueWord(r, time)}`}
            </Text>
            {may("set_up_ground") && (
              <LinkButton onClick={() => setEditing(r)}>{t("rounds.editRound")}</LinkButton>
            )}
          </Box>
          {may("record_readings") && (
            <Button asChild size="lg">
              <Link to={`/${farm.slug}/rounds/${r.id}`}>{t("rounds.startRound")}</Link>
            </Button>
          )}
        </Flex>
      ))}
      {may("set_up_ground") && (
        <Button size="sm" variant="outline" mt="4" onClick={() => setEditing("new")}>
          {t("rounds.newRound")}
        </Button>
      )}
      {editing && (
        <RoundSheet round={editing === "new" ? null : editing} close={() => setEditing(null)} />
      )}
    </Box>
  );
}
