import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { AtWork } from "./AtWork";
import { DropFile } from "./DropFile";
import { isBusy, useGuess, useStepAtWork, type ImportDetail } from "./queries";
import { StepProblem } from "./StepProblem";
import { t } from "./t";

/** A file whose first rows are being read, or could not be. */
export function Unread({ detail }: { detail: ImportDetail }) {
  const { farm, may } = useSignedIn();
  const summary = useStepAtWork(farm.slug, detail.summary);
  const guess = useGuess(farm.slug, detail.summary.id);
  const failed = !isBusy(detail.summary.state);
  return (
    <Box maxW="1280px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/farm/files`}>{t("imports.files2")}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700" mb="2">
        {detail.summary.file_name}
      </Heading>
      <StepProblem text={detail.summary.problem} />
      {!failed && <AtWork summary={summary} />}
      {failed && may("record_readings") && (
        <>
          <Text mb="3">{t("imports.nothingWasStoredCorrectTheFileAnd")}</Text>
          <Flex gap="3">
            <DropFile id={detail.summary.id} />
            <Button
              size="sm"
              variant="plain"
              loading={guess.isPending}
              onClick={() => guess.mutate(detail.instrument)}
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
