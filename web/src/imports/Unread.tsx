import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { AtWork } from "./AtWork";
import { DropFile } from "./DropFile";
import { isBusy, useGuess, useStepAtWork, type BenchData } from "./queries";
import { StepProblem } from "./StepProblem";
import { t } from "./t";

/** A file whose first rows are being read, or could not be. */
export function Unread({ bench }: { bench: BenchData }) {
  const { farm, may } = useSignedIn();
  const summary = useStepAtWork(farm.slug, bench.summary);
  const guess = useGuess(farm.slug, bench.summary.id);
  const failed = !isBusy(bench.summary.state);
  return (
    <Box maxW="1280px" mx="auto">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/ground/files`}>{t("imports.files2")}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700" mb="2">
        {bench.summary.file_name}
      </Heading>
      <StepProblem text={bench.summary.problem} />
      {!failed && <AtWork summary={summary} />}
      {failed && may("record_readings") && (
        <>
          <Text mb="3">{t("imports.nothingWasStoredCorrectTheFileAnd")}</Text>
          <Flex gap="3">
            <DropFile id={bench.summary.id} />
            <Button
              size="sm"
              variant="plain"
              loading={guess.isPending}
              onClick={() => guess.mutate(bench.instrument)}
            >
              {t("imports.readAgain")}
            </Button>
          </Flex>
          {guess.error && <Notice error={guess.error} />}
        </>
      )}
    </Box>
  );
}
