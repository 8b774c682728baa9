import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { actionWords, stateWords } from "../answer/words";
import { Notice } from "../app/Notice";
import type { BoardRow } from "../board/queries";
import { FormSheet } from "../form/FormSheet";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { runningTime } from "../units/format";
import { useAcceptMany } from "./queries";
import { t } from "./t";

interface Props {
  rows: BoardRow[];
  time: FarmTime;
  close: () => void;
}

/** Takes the advice of many blocks at once: all that are ticked, or none. */
export function AcceptSheet({ rows, time, close }: Props) {
  const { farm, units } = useSignedIn();
  const accept = useAcceptMany(farm.slug);
  const [picked, setPicked] = useState<ReadonlySet<number>>(() => new Set(rows.map((r) => r.id)));
  const chosen = rows.filter((r) => picked.has(r.id));
  const hours = chosen.reduce((sum, r) => sum + (r.answer.run?.total_hours ?? 0), 0);

  function toggle(id: number, on: boolean) {
    const next = new Set(picked);
    if (on) next.add(id);
    else next.delete(id);
    setPicked(next);
  }
  return (
    <FormSheet
      title={t("decide.scheduleAllThatIsDue")}
      close={close}
      save={() =>
        accept.mutate(
          chosen.map((r) => r.id),
          { onSuccess: close },
        )
      }
      words={t("decide.schedule2", { count: chosen.length })}
      pending={accept.isPending}
      disabled={chosen.length === 0}
      size="lg"
    >
      <Text fontSize="sm" color="inkSoft" mb="3">
        {t("decide.eachIsScheduledAsAdvisedOfRunning", { hours: runningTime(hours) })}
      </Text>
      <Box as="ul" p="0" m="0" listStyleType="none">
        {rows.map((r) => (
          <Flex
            as="li"
            key={r.id}
            gap="3"
            align="center"
            py="1.5"
            borderBottomWidth="1px"
            borderColor="rule"
          >
            <Tick
              hideLabel
              label={r.name}
              on={picked.has(r.id)}
              change={(on) => toggle(r.id, on)}
            />
            <Text fontWeight="650" fontFamily="heading" minW="130px">
              {r.name}
            </Text>
            <Text fontSize="sm" color="inkSoft">
              {stateWords(r.answer, time)} · {actionWords(r.answer, time, units)}
            </Text>
          </Flex>
        ))}
      </Box>
      {accept.error && <Notice error={accept.error} />}
    </FormSheet>
  );
}
