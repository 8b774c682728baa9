import { Box, Progress, Text } from "@chakra-ui/react";
import { count } from "../units/format";
import type { FileImport } from "./queries";

/** How far the step is that a worker does. */
export function AtWork({ summary }: { summary: FileImport }) {
  const counted = summary.state === "checking" || summary.state === "storing";
  const waiting = counted && summary.done === 0;
  const word = {
    reading: "Reading the first rows…",
    checking: `Reading the file: ${count(summary.done)} rows`,
    storing: `Bringing in: ${count(summary.done)} of ${count(summary.total)} readings`,
    undoing: "Taking back",
  }[summary.state as string];
  return (
    <Box mt="5" maxW="560px" role="status" aria-live="polite">
      <Text mb="1">{waiting ? "Waiting for its turn…" : word}</Text>
      <Progress.Root
        value={summary.total > 0 ? (100 * summary.done) / summary.total : null}
        aria-label={word ?? "At work"}
      >
        <Progress.Track>
          <Progress.Range bg="water" />
        </Progress.Track>
      </Progress.Root>
      <Text mt="1" fontSize="sm" color="inkSoft">
        You may leave this page; the work goes on.
      </Text>
    </Box>
  );
}
