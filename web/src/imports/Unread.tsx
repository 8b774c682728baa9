import { Box, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { AtWork } from "./AtWork";
import { DropFile } from "./DropFile";
import { isBusy, useGuess, useStepAtWork, type BenchData, type Sensor } from "./queries";
import { StepProblem } from "./StepProblem";
import { Whose } from "./Whose";

/** A file whose first rows are being read, or could not be. */
export function Unread({ bench, sensors }: { bench: BenchData; sensors: Sensor[] }) {
  const { farm, may } = useSignedIn();
  const summary = useStepAtWork(farm.slug, bench.summary);
  const guess = useGuess(farm.slug, bench.summary.id);
  const failed = !isBusy(bench.summary.state);
  return (
    <Box maxW="1280px" mx="auto">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/ground/files`}>← Files</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700" mb="2">
        {bench.summary.file_name}
      </Heading>
      <StepProblem text={bench.summary.problem} />
      {!failed && <AtWork summary={summary} />}
      {failed && may("record_readings") && (
        <>
          <Text mb="3">
            Nothing was stored. Mend the file and import it again, or choose the instrument to have
            this one read once more.
          </Text>
          <Whose
            sensors={sensors}
            chosen={bench.instrument}
            pending={guess.isPending}
            choose={(instrument) => guess.mutate(instrument)}
          />
          {guess.error && <Notice error={guess.error} />}
          <DropFile id={bench.summary.id} />
        </>
      )}
    </Box>
  );
}
