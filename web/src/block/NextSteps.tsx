import { Button, Flex } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Reason } from "../answer/types";
import { useSignedIn } from "../session/context";
import type { Action } from "../session/queries";
import type { BlockData } from "./queries";
import { t } from "./t";

interface Step {
  words: string;
  needs: Action;
  /** Below the farm; the block's number stands for `:block`. */
  path: string;
}

const LOG: Step = { words: t("block.logIrrigation"), needs: "log_water", path: "irrigation/log" };
const WEATHER: Step = {
  words: t("block.addWeather"),
  needs: "record_weather",
  path: "irrigation/weather",
};
const ET: Step = { words: t("block.enterEtOnTheBoard"), needs: "enter_et", path: "" };
const INSTRUMENT: Step = {
  words: t("block.addAnInstrument"),
  needs: "set_up_ground",
  path: "blocks/:block/readings",
};
const READINGS: Step = {
  words: t("block.checkTheInstruments"),
  needs: "record_readings",
  path: "farm/instruments",
};
const CROP: Step = {
  words: t("block.editBlock"),
  needs: "set_up_ground",
  path: "blocks/:block/setup",
};

/** What cures a reason that leaves a block without an answer. */
const CURES: Partial<Record<Reason, Step[]>> = {
  no_instrument: [LOG, INSTRUMENT],
  no_reliable_reading: [READINGS, LOG],
  no_crop_in_season: [CROP],
  no_et: [ET, WEATHER],
  surfaces_differ: [ET],
};

/** Buttons to what is missing, for a block without an answer. */
export function NextSteps({ block }: { block: Pick<BlockData, "id" | "answer"> }) {
  const { farm, may } = useSignedIn();
  const steps = block.answer.reasons.flatMap((reason) => CURES[reason] ?? []);
  const allowed = steps.filter((step) => may(step.needs));
  if (block.answer.state !== "no_reliable_data" || allowed.length === 0) return null;
  return (
    <Flex gap="2" mt="2" wrap="wrap">
      {allowed.map((step) => (
        <Button key={step.path} size="sm" variant="outline" asChild>
          <Link to={`/${farm.slug}/${step.path.replace(":block", String(block.id))}`}>
            {step.words}
          </Link>
        </Button>
      ))}
    </Flex>
  );
}
