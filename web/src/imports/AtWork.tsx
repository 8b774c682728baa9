import { Box, Progress, Text } from "@chakra-ui/react";
import { count } from "../units/format";
import type { FileImport } from "./queries";
import { t } from "./t";

/** How far the step is that a worker does. */
export function AtWork({ summary }: { summary: FileImport }) {
  const counted = summary.state === "checking" || summary.state === "storing";
  const waiting = counted && summary.done === 0;
  const work: Partial<Record<FileImport["state"], string>> = {
    reading: t("imports.readingTheFirstRows2"),
    checking: t("imports.readingTheFileRows", { done: count(summary.done) }),
    storing: t("imports.importingOfReadings", {
      done: count(summary.done),
      total: count(summary.total),
    }),
    undoing: t("imports.undoing2"),
  };
  return (
    <Box mt="5" maxW="560px" role="status" aria-live="polite">
      <Text mb="1">{waiting ? t("imports.waitingInTheQueue") : work[summary.state]}</Text>
      <Progress.Root
        value={summary.total > 0 ? (100 * summary.done) / summary.total : null}
        aria-label={work[summary.state] ?? t("imports.inProgress")}
      >
        <Progress.Track>
          <Progress.Range bg="water" />
        </Progress.Track>
      </Progress.Root>
      <Text mt="1" fontSize="sm" color="inkSoft">
        {t("imports.youCanLeaveThisPageTheWork")}
      </Text>
    </Box>
  );
}
