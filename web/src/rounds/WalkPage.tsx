import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useEffect, useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { OutboxLine } from "./OutboxLine";
import { useRounds, type Round, type Stop } from "./queries";
import { StopCard, type Finished } from "./StopCard";
import { endWalk, keepWalk, walkOf, type Walk } from "./store";
import { useVisits } from "./useVisits";
import { t } from "./t";

const STOP_WORDS = {
  read: t("rounds.stopRead"),
  skipped: t("rounds.stopSkipped"),
  open: t("rounds.stopOpen"),
};

/** A round on foot, a card at a time; works without signal from start to finish. */
export function WalkPage() {
  const { round: id } = useParams();
  const { farm, may } = useSignedIn();
  const rounds = useRounds(farm.slug);
  const round = rounds.data?.rounds.find((r) => r.id === Number(id));
  const time = useMemo(
    () => rounds.data && new FarmTime(rounds.data.now, rounds.data.time_zone),
    [rounds.data],
  );
  if (rounds.isPending) return <Loading what={t("rounds.loadingTheRound")} />;
  if (rounds.error) return <Notice error={rounds.error} retry={() => void rounds.refetch()} />;
  if (!round || !time) return <Text p="6">{t("rounds.thisRoundDoesNotExist")}</Text>;
  if (!may("record_readings"))
    return <Text p="6">{t("rounds.aCantRecordReadings", { role: farm.role })}</Text>;
  return <OnFoot round={round} time={time} />;
}

function OnFoot({ round, time }: { round: Round; time: FarmTime }) {
  const { farm } = useSignedIn();
  const navigate = useNavigate();
  const outbox = useVisits(farm.slug);
  const [walk, setWalk] = useState<Walk | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);

  useEffect(() => {
    void walkOf(farm.slug, round.id).then(setWalk);
  }, [farm.slug, round.id]);
  if (!walk) return <Loading what={t("rounds.loadingTheRound")} />;

  const left = round.stops.filter((s) => !walk.done[s.instrument_id]);
  const stop = round.stops.find((s) => s.instrument_id === chosen) ?? left[0];

  function change(next: Walk) {
    setWalk(next);
    void keepWalk(next);
  }

  async function finish(at: Stop, { photo, ...visit }: Finished) {
    if (!walk) return;
    const key = crypto.randomUUID();
    // Into the field book first: only then may the card be turned.
    await outbox.add({
      key,
      slug: farm.slug,
      madeAt: Date.now(),
      label: at.label,
      refused: "",
      photo,
      visit: {
        ...visit,
        key,
        instrument_id: at.instrument_id,
        round_id: round.id,
        at: new Date().toISOString(),
      },
    });
    const drafts = { ...walk.drafts };
    delete drafts[at.instrument_id];
    change({
      ...walk,
      drafts,
      done: { ...walk.done, [at.instrument_id]: visit.skipped ? "skipped" : "read" },
    });
    setChosen(null);
    window.scrollTo(0, 0);
  }

  return (
    <Box maxW="520px" mx="auto">
      <Flex justify="space-between" align="baseline" gap="3">
        <Text fontSize="sm" color="inkSoft">
          <Link to={`/${farm.slug}/rounds`}>{t("rounds.rounds2")}</Link>
        </Text>
        <OutboxLine outbox={outbox} />
      </Flex>
      <Heading as="h1" size="lg">
        {t("rounds.of", {
          name: round.name,
          count: round.stops.length - left.length,
          count2: round.stops.length,
        })}
      </Heading>
      <Flex gap="1" my="3" wrap="wrap" role="list" aria-label={t("rounds.stops")}>
        {round.stops.map((s, i) => (
          <Box key={s.instrument_id} role="listitem" flex="1" minW="26px">
            <Button
              w="100%"
              minW="0"
              h="34px"
              px="0"
              size="sm"
              variant={s === stop ? "solid" : "outline"}
              aria-label={`${s.label}, ${STOP_WORDS[walk.done[s.instrument_id] ?? "open"]}`}
              onClick={() => setChosen(s.instrument_id)}
            >
              {stopMark(walk.done[s.instrument_id]) ?? i + 1}
            </Button>
          </Box>
        ))}
      </Flex>
      {stop ? (
        <StopCard
          key={`${stop.instrument_id}-${walk.done[stop.instrument_id] ?? ""}`}
          stop={stop}
          time={time}
          typed={walk.drafts[stop.instrument_id] ?? {}}
          type={(typed) =>
            change({ ...walk, drafts: { ...walk.drafts, [stop.instrument_id]: typed } })
          }
          finish={(visit) => void finish(stop, visit)}
        />
      ) : (
        <Box py="8" textAlign="center">
          <Heading as="h2" size="xl">
            {t("rounds.theRoundIsDone")}
          </Heading>
          <Text my="3">
            {outbox.waiting.length === 0
              ? t("rounds.everythingIsSent")
              : t("rounds.readingsAreStoredOnThisPhoneAnd", { count: outbox.waiting.length })}
          </Text>
          <Button
            size="lg"
            onClick={() =>
              void endWalk(farm.slug, round.id).then(() => navigate(`/${farm.slug}/rounds`))
            }
          >
            {t("rounds.closeTheRound")}
          </Button>
        </Box>
      )}
    </Box>
  );
}

function stopMark(done: "read" | "skipped" | undefined): string | undefined {
  return done && { read: "✓", skipped: "–" }[done];
}
