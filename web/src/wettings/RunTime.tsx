import { Box, Button, Heading, Text } from "@chakra-ui/react";
import type { Schemas } from "../api/client";
import type { RunHours } from "./queries";
import { runningTime, withUnit, type UnitSystem } from "../units/format";
import { t } from "./t";

type Hours = Schemas["HoursOut"];

/** What the last irrigations did beside the roots, and the hours that would just have wetted them. */
export function RunTime({ runHours, units }: { runHours: RunHours; units: UnitSystem }) {
  const [now, ...deeper] = runHours.enough;
  if (!now) return null;
  return (
    <Box as="section" aria-labelledby="run-time" mt="3" mb="4">
      <Heading as="h3" id="run-time" size="md">
        {t("wettings.runTime")}
      </Heading>
      <Text>{habitWords(runHours, now, units)}</Text>
      {runHours.passed_mm >= WORTH_SAYING_MM && (
        <Text>
          {t("wettings.eachLost", { amount: withUnit(runHours.passed_mm, units, "water") })}
        </Text>
      )}
      <Text fontWeight="700">{enough(now, runHours.habit_hours, units)}</Text>
      {deeper.map((h) => (
        <Text key={h.root_mm} color="inkSoft">
          {t("wettings.onceRootsAre", {
            depth: withUnit(h.root_mm, units, "depth"),
            hours: range(h),
          })}
        </Text>
      ))}
    </Box>
  );
}

const WORTH_SAYING_MM = 0.5;

/** How long the last irrigations ran, and how deep they went. */
function habitWords(runHours: RunHours, now: Hours, units: UnitSystem): string {
  return t("wettings.lastIrrigations", {
    count: runHours.irrigations.length,
    hours: runningTime(runHours.habit_hours),
    depth: withUnit(runHours.habit_gross_mm, units, "water"),
    reached:
      runHours.reached_mm === null
        ? t("wettings.wentPast")
        : t("wettings.cameTo", { depth: withUnit(runHours.reached_mm, units, "depth") }),
    roots: withUnit(now.root_mm, units, "depth"),
  });
}

interface LineProps {
  runHours: RunHours;
  units: UnitSystem;
  /** Takes the hours that would have done. */
  use: (hours: number) => void;
}

/** The same beside the hours of an irrigation that is being scheduled. */
export function RunTimeLine({ runHours, units, use }: LineProps) {
  const [now] = runHours.enough;
  if (!now) return null;
  return (
    <Box fontSize="sm" borderLeftWidth="3px" borderColor="rule" ps="3">
      <Text>{habitWords(runHours, now, units)}</Text>
      <Text fontWeight="600">{enough(now, runHours.habit_hours, units)}</Text>
      {now.high !== null && (
        <Button size="xs" variant="outline" mt="1" onClick={() => use(now.likely)}>
          {t("wettings.takeHours", { hours: runningTime(now.likely) })}
        </Button>
      )}
    </Box>
  );
}

/** "7 h 10 (6 h 20 – 8 h)", or from how many hours on. */
function range(hours: Hours): string {
  if (hours.high === null) return t("wettings.atLeast", { low: runningTime(hours.low) });
  return t("wettings.hoursRange", {
    likely: runningTime(hours.likely),
    low: runningTime(hours.low),
    high: runningTime(hours.high),
  });
}

/** What would have done, beside what was run. */
function enough(hours: Hours, habit: number, units: UnitSystem): string {
  if (hours.high === null) return t("wettings.noneDeepEnough", { low: runningTime(hours.low) });
  const depth = withUnit(hours.gross_mm, units, "water");
  return hours.likely < habit
    ? t("wettings.wouldHaveDone", { hours: range(hours), depth })
    : t("wettings.wouldWet", { hours: range(hours), depth });
}
