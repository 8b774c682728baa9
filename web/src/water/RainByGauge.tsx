import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { DateLine } from "../form/DateLine";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { localInput } from "../time/localInput";
import { measure, typed, withUnit } from "../units/format";
import { useSetRain, type WaterData } from "./queries";
import { t } from "./t";

const SHOWN = 8;

/** The rain of a day as the gauge has it; an empty figure takes a wrong one away. */
export function RainByGauge({ water, time }: { water: WaterData; time: FarmTime }) {
  const { farm, units, may } = useSignedIn();
  const rain = useSetRain(farm.slug);
  const [on, setOn] = useState(() => localInput(time).slice(0, 10));
  const [mm, setMm] = useState("");
  const problems = problemsOf(rain.error);
  return (
    <Box as="section" aria-labelledby="gauge">
      <Heading as="h2" id="gauge" size="lg" mb="2">
        {t("water.rainByGauge")}
      </Heading>
      {may("record_readings") && (
        <Flex gap="2" align="end" mb="2">
          <Box w="150px" flexShrink="0">
            <DateLine label={t("water.day")} value={on} change={setOn} error={problems["date"]} />
          </Box>
          <Line
            label={t("water.rain")}
            unit={measure(units, "water").label}
            numeric
            value={mm}
            change={setMm}
          />
          <Button
            size="sm"
            variant="outline"
            loading={rain.isPending}
            disabled={!on}
            onClick={() =>
              rain.mutate({ on, mm: typed(mm, units, "water") }, { onSuccess: () => setMm("") })
            }
          >
            {t("water.save")}
          </Button>
        </Flex>
      )}
      {rain.error && <Notice error={rain.error} />}
      {water.rain.length === 0 ? (
        <Text fontSize="sm" color="inkSoft">
          {t("water.noRainWasRecordedInThisPeriod")}
        </Text>
      ) : (
        water.rain.slice(0, SHOWN).map((d) => (
          <Flex key={d.date} justify="space-between" fontSize="sm" py="0.5">
            <Text>
              {time
                .full(new Date(`${d.date}T12:00:00Z`))
                .split(" ")
                .slice(0, 3)
                .join(" ")}
            </Text>
            <Text>{withUnit(d.rain_mm, units, "water")}</Text>
          </Flex>
        ))
      )}
    </Box>
  );
}
