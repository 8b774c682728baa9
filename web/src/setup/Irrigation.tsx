import { Box, Grid, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSettled } from "../form/useSettled";
import { DesignFields } from "../irrigation/DesignFields";
import { designIn, hasDesign } from "../irrigation/designForm";
import { DesignResult } from "../irrigation/DesignResult";
import { useDesign, type DesignIn } from "../irrigation/queries";
import { useSignedIn } from "../session/context";
import { measure, typed, type UnitSystem } from "../units/format";
import { input, type BlockFields } from "./fields";
import { NEW_SOIL, type BlockForm } from "./form";
import { usePeople } from "../people/queries";
import type { Catalogue } from "./queries";
import { t } from "./t";

const LIKELY_MM = 25;

interface Props {
  fields: BlockFields;
  catalogue: Catalogue;
  block: number | null;
  problems: Record<string, string>;
}

const range = (share: number[]) => share.map((s) => Math.round(s * 100)).join("–") + " %";

function request(form: BlockForm, units: UnitSystem): DesignIn | null {
  const area = typed(form.area, units, "area");
  if (form.knownBy !== "design" || !hasDesign(form.kind, form.design) || !area) return null;
  return {
    kind: form.kind,
    figures: designIn(form.kind, form.design, units),
    area_m2: area,
    slope_percent: Number(form.slope.replace(",", ".")) || 0,
    gross_mm: typed(form.largest, units, "water") ?? LIKELY_MM,
    soil_id: form.soil === NEW_SOIL ? null : Number(form.soil),
  };
}

/** The irrigation system: by its design's figures, or by a rate or flow that is known. */
export function Irrigation({ fields, catalogue, block, problems }: Props) {
  const { farm, units } = useSignedIn();
  const { form } = fields;
  const moves = catalogue.moving_kinds.some((k) => k === form.kind);
  const body = useSettled(request(form, units), 300);
  const people = usePeople(farm.slug);
  const design = useDesign(farm.slug, body);
  const usual = catalogue.usual.find((u) => u.kind === form.kind);
  const missing = problemsOf(design.error);
  const worked = form.knownBy === "design" ? design.data : undefined;
  return (
    <Box as="section">
      <Heading as="h2" size="lg" mb="2">
        {t("setup.irrigation")}
      </Heading>
      <Grid templateColumns={{ base: "1fr 1fr", md: "1.4fr 1.2fr 1fr 1fr" }} gap="3">
        <Choice
          label={t("setup.system")}
          {...input(fields, "kind")}
          help={[
            moves
              ? t("setup.irrigatesTheBlockPartByPart")
              : t("setup.irrigatesTheWholeBlockAtOnce"),
            usual?.wetted &&
              form.knownBy !== "design" &&
              t("setup.assumedToWetOfTheGroundEnter", {
                round: Math.round(usual.wetted * 100),
                wettedSource: usual.wetted_source,
              }),
          ]
            .filter(Boolean)
            .join("; ")}
        >
          {catalogue.system_kinds.map((k) => (
            <option key={k} value={k}>
              {t(`system.${k}`)}
            </option>
          ))}
        </Choice>
        <Choice label={t("setup.knownBy")} {...input(fields, "knownBy")}>
          <option value="design">{t("setup.itsDesign")}</option>
          <option value="rate">{t("setup.applicationRate")}</option>
          <option value="flow">{t("setup.flowToTheBlock")}</option>
        </Choice>
        {form.knownBy === "rate" && (
          <Line
            label={t("setup.rate")}
            unit={measure(units, "rate").label}
            numeric
            required
            {...input(fields, "rate")}
          />
        )}
        {form.knownBy === "flow" && (
          <Line
            label={t("setup.flow")}
            unit={measure(units, "flow").label}
            numeric
            required
            {...input(fields, "flow")}
          />
        )}
        <Line
          label={t("setup.efficiency")}
          unit="%"
          numeric
          required
          {...(usual ? { help: t("setup.usually", { range: range(usual.efficiency) }) } : {})}
          {...input(fields, "efficiency")}
        />
        <Line
          label={t("setup.minimumApplication")}
          unit={measure(units, "water").label}
          numeric
          help={t("setup.grossLeaveEmptyIfThereIsNone")}
          {...input(fields, "smallest")}
        />
        <Line
          label={t("setup.maximumApplication")}
          unit={measure(units, "water").label}
          numeric
          help={t("setup.grossLeaveEmptyIfThereIsNone")}
          {...input(fields, "largest")}
        />
        <Line
          label={t("setup.roomLeftForRain")}
          unit={measure(units, "water").label}
          numeric
          help={t("setup.leftUnfilled")}
          {...input(fields, "rainRoom")}
        />
        <Line label={t("setup.slope")} unit="%" numeric {...input(fields, "slope")} />
        <Line
          label={t("setup.irrigationWaterSalinityEcw")}
          unit="dS/m"
          numeric
          help={t("setup.leaveEmptyIfNotMeasured")}
          {...input(fields, "ecw")}
        />
        <Line
          label={t("setup.waterTableDepth")}
          unit={measure(units, "depth").label}
          numeric
          help={t("setup.usedWhereNoObservationWellMeasuresIt")}
          {...input(fields, "table")}
        />
        <Line
          label={t("setup.capillaryRise")}
          unit={measure(units, "waterDay").label}
          numeric
          help={t("setup.usedWhereNoWaterTableIsKnown")}
          {...input(fields, "rise")}
        />
        {!moves && (
          <Choice
            label={t("setup.irrigate")}
            {...input(fields, "daily")}
            help={t("setup.everyDayLittleAndOftenReplacingWhat")}
          >
            <option value="refill">{t("setup.byTheRefillPoint")}</option>
            <option value="daily">{t("setup.everyDay")}</option>
          </Choice>
        )}
        <Line
          label={t("setup.waterSupply")}
          help={t("setup.pumpMainOrDitch")}
          {...input(fields, "supply")}
        />
        <Choice label={t("setup.irrigator")} {...input(fields, "irrigator")}>
          <option value="">{t("setup.notAssigned")}</option>
          {people.data?.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </Choice>
      </Grid>
      {form.knownBy === "design" && (
        <Box mt="4">
          <DesignFields
            kind={form.kind}
            form={form.design}
            change={(figures) => fields.set({ design: figures })}
            problems={body ? { ...missing, ...problems } : problems}
            units={units}
          />
          {worked && body && !design.error && (
            <Box mt="3">
              <DesignResult found={worked} grossMm={body.gross_mm ?? 0} areaM2={body.area_m2} />
            </Box>
          )}
        </Box>
      )}
      {block !== null && (
        <Text mt="3" fontSize="sm">
          {usual &&
            `${t("setup.lowQuarterUniformityIsUsually", { range: range(usual.du_lq), source: usual.source })} `}
          <Link
            to={`/${farm.slug}/blocks/${block}/catch-cans`}
            style={{ textDecoration: "underline" }}
          >
            {t("setup.catchCanTests")}
          </Link>{" "}
          {t("setup.showHowEvenItIs")}
        </Text>
      )}
    </Box>
  );
}
