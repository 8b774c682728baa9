import { Box, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { LinkButton } from "../app/LinkButton";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { useUndoCurve, type Detail } from "./queries";
import { depthLabel } from "./words";
import { t } from "./t";

/** Curves from raw readings to water content, the newest first; undone ones stay on record. */
export function CurveList({ detail, time }: { detail: Detail; time: FarmTime }) {
  const { farm, units, may } = useSignedIn();
  const undo = useUndoCurve(farm.slug);
  const takes = detail.channels.some((c) =>
    ["theta", "counts", "permittivity"].includes(c.quantity),
  );
  if (!takes) return null;
  const depthOf = new Map(detail.channels.map((c) => [c.id, c.depth_mm]));
  return (
    <Box as="section" aria-label={t("instruments.calibration")} mb="6" fontSize="sm">
      <Heading as="h2" size="md">
        {t("instruments.calibration")}
      </Heading>
      {detail.curves.length === 0 && (
        <Text color="inkSoft">
          {detail.health.needs_calibration
            ? t("instruments.itsRawReadingsNeedACalibrationCurve")
            : t("instruments.theManufacturersCurveAsTheReadings")}
        </Text>
      )}
      <Link to="calibration" style={{ textDecoration: "underline" }}>
        {t("instruments.openTheCalibrationWorksheet")}
      </Link>
      {detail.curves.map((k) => (
        <Box key={k.id} mt="2" color={k.undone_at ? "inkSoft" : "ink"}>
          <Text>
            <Text as="span" fontWeight="600">
              {depthLabel(depthOf.get(k.channel_id) ?? null, units)}
            </Text>
            {t("instruments.from", {
              kind: t(`curve.${k.kind}`),
              from:
                k.from_at === null ? t("instruments.theBeginning") : time.full(new Date(k.from_at)),
            })}
            {k.rmse !== null && t("instruments.rmseMM", { toFixed: k.rmse.toFixed(3) })}
          </Text>
          <Text>
            θ = {k.coefficients.map((c, i) => `${Number(c.toPrecision(5))}${power(i)}`).join(" + ")}
          </Text>
          <Text color="inkSoft">
            {k.reason}
            {k.made_by && `, ${k.made_by}`}
            {k.undone_at && t("instruments.undoneBy", { undoneBy: k.undone_by })}{" "}
            {k.samples > 0 && (
              <a href={`/api/farms/${farm.slug}/curves/${k.id}/samples.csv`}>
                {t("instruments.samplesCsv", { samples: k.samples })}
              </a>
            )}{" "}
            {!k.undone_at && may("set_up_ground") && (
              <LinkButton onClick={() => undo.mutate(k.id)}>{t("instruments.undo")}</LinkButton>
            )}
          </Text>
        </Box>
      ))}
    </Box>
  );
}

function power(exponent: number): string {
  return ["", "x", "x²", "x³"][exponent] ?? "";
}
