import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { useAddEvent, type Detail } from "./queries";
import { t } from "./t";

/** What is due at the instrument, ticked off on the spot. */
export function TaskPanel({ detail, time }: { detail: Detail; time: FarmTime }) {
  const { farm, may } = useSignedIn();
  const add = useAddEvent(farm.slug, detail.health.id);
  const [done, setDone] = useState<string[]>([]);
  const [note, setNote] = useState("");
  if (detail.tasks.length === 0) return null;
  const write = may("record_readings");
  return (
    <Box as="section" aria-label={t("instruments.maintenance")} mb="6">
      <Heading as="h2" size="md">
        {t("instruments.maintenance")}
      </Heading>
      {detail.tasks.map((task) => (
        <Box key={task.key} mt="1">
          {write ? (
            <Tick
              label={task.name}
              on={done.includes(task.key)}
              change={(on) =>
                setDone(on ? [...done, task.key] : done.filter((key) => key !== task.key))
              }
            />
          ) : (
            <Text>{task.name}</Text>
          )}
          <Text fontSize="xs" color={task.overdue ? "rust" : "inkSoft"} ps={write ? "6" : "0"}>
            {task.last === null
              ? t("instruments.notRecordedYet")
              : t("instruments.last", {
                  last: time.date(new Date(task.last)),
                  overdue: task.overdue ? "yes" : "no",
                  due: time.date(new Date(task.due ?? task.last)),
                })}
          </Text>
        </Box>
      ))}
      {write && done.length > 0 && (
        <Box mt="2">
          <Line label={t("instruments.note2")} value={note} change={setNote} />
          <Button
            size="sm"
            mt="2"
            loading={add.isPending}
            onClick={() =>
              add.mutate(
                { kind: "serviced", at: null, done, note, proof: null },
                {
                  onSuccess: () => {
                    setDone([]);
                    setNote("");
                  },
                },
              )
            }
          >
            {t("instruments.recordAsDone")}
          </Button>
        </Box>
      )}
      {add.error && <Notice error={add.error} />}
    </Box>
  );
}
