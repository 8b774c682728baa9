import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useInstruments } from "../instruments/queries";
import { useSignedIn } from "../session/context";
import { useDeleteRound, useSaveRound, type Round } from "./queries";
import { moved } from "./words";
import { t } from "./t";

/** A round's name, how often, and its instruments in walking order. */
export function RoundSheet({ round, close }: { round: Round | null; close: () => void }) {
  const { farm } = useSignedIn();
  const save = useSaveRound(farm.slug, round?.id ?? null);
  const remove = useDeleteRound(farm.slug);
  const instruments = useInstruments(farm.slug);
  const [name, setName] = useState(round?.name ?? "");
  const [every, setEvery] = useState(String(round?.every_days ?? 7));
  const [order, setOrder] = useState(round?.stops.map((s) => s.instrument_id) ?? []);
  const problems = problemsOf(save.error);
  const nameOf = new Map(instruments.data?.map((i) => [i.id, `${i.label}, ${i.block}`]));
  const rest = instruments.data?.filter((i) => !order.includes(i.id)) ?? [];
  return (
    <FormSheet
      title={round ? t("rounds.edit", { name: round.name }) : t("rounds.newRound")}
      close={close}
      save={() =>
        // What is no number is sent as none, and refused.
        save.mutate({ name, every_days: Number(every), instruments: order }, { onSuccess: close })
      }
      words={t("rounds.save")}
      pending={save.isPending}
      other={
        round && (
          <Button
            size="sm"
            variant="outline"
            loading={remove.isPending}
            onClick={() => remove.mutate(round.id, { onSuccess: close })}
          >
            {t("rounds.deleteRound")}
          </Button>
        )
      }
    >
      <Line label={t("rounds.name")} value={name} change={setName} error={problems["name"]} />
      <Box mt="3">
        <Line
          label={t("rounds.intervalDays")}
          value={every}
          change={setEvery}
          numeric
          error={problems["every_days"]}
        />
      </Box>
      <Text fontWeight="600" mt="3">
        {t("rounds.orderOfStops")}
      </Text>
      {order.length === 0 && <Text color="inkSoft">{t("rounds.noInstrumentYet")}</Text>}
      {order.map((id, i) => (
        <Flex key={id} align="center" gap="2" py="1" borderBottomWidth="1px" borderColor="rule">
          <Text flex="1">
            {i + 1}. {nameOf.get(id)}
          </Text>
          <Button
            size="2xs"
            variant="outline"
            aria-label={t("rounds.earlier", { name: nameOf.get(id) ?? "" })}
            disabled={i === 0}
            onClick={() => setOrder(moved(order, i, -1))}
          >
            ↑
          </Button>
          <Button
            size="2xs"
            variant="outline"
            aria-label={t("rounds.later", { name: nameOf.get(id) ?? "" })}
            disabled={i === order.length - 1}
            onClick={() => setOrder(moved(order, i, 1))}
          >
            ↓
          </Button>
          <Button
            size="2xs"
            variant="outline"
            aria-label={t("rounds.remove", { name: nameOf.get(id) ?? "" })}
            onClick={() => setOrder(order.filter((x) => x !== id))}
          >
            ×
          </Button>
        </Flex>
      ))}
      {rest.length > 0 && (
        <Box mt="3">
          <Choice
            label={t("rounds.addAStop")}
            value=""
            change={(v) => v && setOrder([...order, Number(v)])}
            error={problems["instruments"]}
          >
            <option value="">{t("rounds.chooseAnInstrument")}</option>
            {rest.map((i) => (
              <option key={i.id} value={i.id}>
                {i.label}, {i.block}
              </option>
            ))}
          </Choice>
        </Box>
      )}
      {(save.error ?? remove.error) && !problems["name"] && !problems["instruments"] && (
        <Notice error={save.error ?? remove.error} />
      )}
    </FormSheet>
  );
}
