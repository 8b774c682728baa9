import { Box, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { number, runningTime, withUnit } from "../units/format";
import type { DesignOut } from "./queries";

interface Props {
  found: DesignOut;
  grossMm: number;
  areaM2: number;
}

/** What a system's figures come to, in words, with the soil's say. */
export function DesignResult({ found, grossMm, areaM2 }: Props) {
  const { units } = useSignedIn();
  const intake = found.intake;
  const off = found.covered_m2 === null ? 0 : found.covered_m2 / areaM2 - 1;
  return (
    <Box fontSize="sm" borderLeftWidth="3px" borderColor="water" ps="3" py="1">
      <Text>
        <b>{withUnit(found.rate_mm_h, units, "rate")}</b> over the block; where it falls{" "}
        {withUnit(found.peak_rate_mm_h, units, "rate")}.
      </Text>
      <Text>
        A pass gives {withUnit(found.pass_mm, units, "water")} in {runningTime(found.pass_hours)}
        {found.smallest_mm !== null &&
          `; not sensibly less than ${withUnit(found.smallest_mm, units, "water")}`}
        .
      </Text>
      <Text>
        {withUnit(grossMm, units, "water")} gross take {runningTime(found.set_hours)},{" "}
        {withUnit(found.set_m3, units, "volume")}
        {found.speed_percent !== null && `, at ${number(found.speed_percent, 0)} % speed`}.
      </Text>
      {Math.abs(off) > 0.05 && (
        <Text color="rust">
          Its figures wet {withUnit(found.covered_m2, units, "area", 2)}; the block is stated at{" "}
          {withUnit(areaM2, units, "area", 2)}.
        </Text>
      )}
      {intake && !intake.runs_off && (
        <Text>
          The {intake.texture} takes in about {withUnit(intake.intake_mm_h, units, "rate")}:{" "}
          {intake.safe_mm === null
            ? "it keeps up with any set."
            : `up to ${withUnit(intake.safe_mm, units, "water")} at one go stands in its hollows.`}
        </Text>
      )}
      {intake?.runs_off && (
        <Text color="rust" role="alert">
          It would run off: the {intake.texture} takes in about{" "}
          {withUnit(intake.intake_mm_h, units, "rate")} and{" "}
          {withUnit(intake.storage_mm, units, "water")} stand on this slope.{" "}
          {intake.on_hours !== null && intake.pause_hours !== null
            ? `Give it in ${intake.pulses} pulses of ${runningTime(intake.on_hours)} with ${runningTime(intake.pause_hours)} between, or at most ${withUnit(intake.safe_mm, units, "water")} at once.`
            : intake.storage_mm === 0
              ? "Nothing stands on such a slope: use smaller nozzles."
              : `Go faster: at most ${withUnit(intake.safe_mm, units, "water")} a pass.`}
        </Text>
      )}
    </Box>
  );
}
