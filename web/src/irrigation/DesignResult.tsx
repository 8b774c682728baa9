import { Box, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { number, runningTime, withUnit } from "../units/format";
import type { DesignOut } from "./queries";
import { t } from "./t";

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
        <b>{withUnit(found.rate_mm_h, units, "rate")}</b>{" "}
        {t("irrigation.overTheBlockWhereTheWaterFalls", {
          peakRate: withUnit(found.peak_rate_mm_h, units, "rate"),
        })}
      </Text>
      <Text>
        {t("irrigation.aPassGivesIn", {
          pass: withUnit(found.pass_mm, units, "water"),
          pass2: runningTime(found.pass_hours),
        })}
        {found.smallest_mm !== null &&
          t("irrigation.aSmallerDepthThanIsNotPractical", {
            smallest: withUnit(found.smallest_mm, units, "water"),
          })}
        .
      </Text>
      <Text>
        {t("irrigation.grossTakes", {
          grossMm: withUnit(grossMm, units, "water"),
          set: runningTime(found.set_hours),
          set2: withUnit(found.set_m3, units, "volume"),
        })}
        {found.speed_percent !== null &&
          t("irrigation.atSpeed", { speed: number(found.speed_percent, 0) })}
        .
      </Text>
      {Math.abs(off) > 0.05 && (
        <Text color="rust">
          {t("irrigation.byItsDesignItWetsTheBlock", {
            covered: withUnit(found.covered_m2, units, "area", 2),
            areaM2: withUnit(areaM2, units, "area", 2),
          })}
        </Text>
      )}
      {intake && !intake.runs_off && (
        <Text>
          {t("irrigation.theHasAnIntakeRateOfAbout", {
            texture: t(`texture.${intake.texture}`),
            intake: withUnit(intake.intake_mm_h, units, "rate"),
            safe:
              intake.safe_mm === null
                ? t("irrigation.itKeepsUpWithAnyApplication")
                : t("irrigation.upToAtOneGoIsHeld", {
                    safe: withUnit(intake.safe_mm, units, "water"),
                  }),
          })}
        </Text>
      )}
      {intake?.runs_off && (
        <Text color="rust" role="alert">
          {t("irrigation.itWouldRunOffTheHasAn", {
            texture: t(`texture.${intake.texture}`),
            intake: withUnit(intake.intake_mm_h, units, "rate"),
            storage: withUnit(intake.storage_mm, units, "water"),
            on:
              intake.on_hours !== null && intake.pause_hours !== null
                ? t("irrigation.applyItInPulsesOfWithBetween", {
                    pulses: intake.pulses,
                    on: runningTime(intake.on_hours),
                    pause: runningTime(intake.pause_hours),
                    safe: withUnit(intake.safe_mm, units, "water"),
                  })
                : intake.storage_mm === 0
                  ? t("irrigation.noWaterIsHeldOnSuchA")
                  : t("irrigation.runFasterAtMostAPass", {
                      safe: withUnit(intake.safe_mm, units, "water"),
                    }),
          })}
        </Text>
      )}
    </Box>
  );
}
