import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { MomentLine } from "../form/MomentLine";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { FormSheet } from "../form/FormSheet";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { localInput } from "../time/localInput";
import { typed } from "../units/format";
import { useAddPosition, useRemovePosition, type SetOut } from "./queries";
import { GOING_WORDS, percent, type Going } from "./way";
import { t } from "./t";

interface Props {
  set: SetOut;
  time: FarmTime;
  close: () => void;
}

/** Records where a machine is, and where it goes from there. */
export function PositionSheet({ set, time, close }: Props) {
  const { farm } = useSignedIn();
  const add = useAddPosition(farm.slug);
  const [at, setAt] = useState(() => localInput(time));
  const [place, setPlace] = useState(() => (set.way ? percent(set.way.place) : ""));
  const [going, setGoing] = useState<Going>("forward");
  const remove = useRemovePosition(farm.slug);
  const error = add.error ?? remove.error;
  const problems = problemsOf(add.error);
  const positions = set.way?.positions ?? [];
  const share = typed(place, "metric", "water");
  const body = { at, place: (share ?? Number.NaN) / 100, going };
  return (
    <FormSheet
      title={t("water.position2", { block: set.block })}
      close={close}
      save={() => add.mutate({ set: set.id, body }, { onSuccess: close })}
      words={t("water.recordPosition")}
      pending={add.isPending}
      disabled={share === null}
    >
      <Grid gap="3">
        <MomentLine label={t("water.at")} value={at} change={setAt} error={problems["at"]} />
        <Line
          label={t("water.position")}
          unit="%"
          numeric
          value={place}
          change={setPlace}
          error={problems["place"] ?? problems["positions"]}
          help={t("water.ofTheMachinesPathOverTheBlock")}
        />
        <Choice
          label={t("water.fromThenOnTheMachine")}
          value={going}
          change={(v) => setGoing(v as Going)}
        >
          {Object.entries(GOING_WORDS).map(([key, words]) => (
            <option key={key} value={key}>
              {words.choice}
            </option>
          ))}
        </Choice>
        <Text fontSize="sm" color="inkSoft">
          {t("water.betweenTwoPositionsWaterIsCredited")}
        </Text>
      </Grid>
      {positions.length > 0 && (
        <Box as="section" mt="4" aria-label={t("water.positionsRecorded")}>
          <Text fontWeight="600" fontSize="sm">
            {t("water.recorded")}
          </Text>
          <Box as="ul" listStyleType="none">
            {positions.map((p, i) => (
              <Flex
                as="li"
                key={p.at}
                justify="space-between"
                align="center"
                minH="9"
                fontSize="sm"
              >
                <span>
                  {time.full(new Date(p.at))}: {percent(p.place)} %{GOING_WORDS[p.going].seen}
                </span>
                {i === positions.length - 1 && (
                  <Button
                    size="xs"
                    variant="ghost"
                    loading={remove.isPending}
                    onClick={() => remove.mutate(set.id)}
                  >
                    {t("water.remove")}
                  </Button>
                )}
              </Flex>
            ))}
          </Box>
        </Box>
      )}
      {error && <Notice error={error} />}
    </FormSheet>
  );
}
