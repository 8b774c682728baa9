import { Box, Grid, Heading, Text } from "@chakra-ui/react";
import { Controller, useWatch, type UseFormReturn } from "react-hook-form";
import { Link } from "react-router";
import { ChoiceField } from "../form/ChoiceField";
import { problemsOf } from "../form/problems";
import { TextField } from "../form/TextField";
import { useSettled } from "../form/useSettled";
import { DesignFields } from "../irrigation/DesignFields";
import { designIn, hasDesign } from "../irrigation/designForm";
import { DesignResult } from "../irrigation/DesignResult";
import { useDesign, type DesignIn } from "../irrigation/queries";
import { useSignedIn } from "../session/context";
import { measure, typed, type UnitSystem } from "../units/format";
import { NEW_SOIL, type BlockForm } from "./form";
import { usePeople } from "../people/queries";
import type { Catalogue } from "./queries";
import { t } from "./t";

const LIKELY_MM = 25;

interface Props {
  form: UseFormReturn<BlockForm>;
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
export function Irrigation({ form, catalogue, block, problems }: Props) {
  const { farm, units } = useSignedIn();
  const watched = useWatch({ control: form.control }) as BlockForm;
  const { errors } = form.formState;
  const moves = catalogue.moving_kinds.some((k) => k === watched.kind);
  const body = useSettled(request(watched, units), 300);
  const people = usePeople(farm.slug);
  const design = useDesign(farm.slug, body);
  const usual = catalogue.usual.find((u) => u.kind === watched.kind);
  const missing = problemsOf(design.error);
  const worked = watched.knownBy === "design" ? design.data : undefined;
  return (
    <Box as="section">
      <Heading as="h2" size="lg" mb="2">
        {t("setup.irrigation")}
      </Heading>
      <Grid templateColumns={{ base: "1fr 1fr", md: "1.4fr 1.2fr 1fr 1fr" }} gap="3">
        <ChoiceField
          label={t("setup.system")}
          field={form.register("kind")}
          help={[
            moves
              ? t("setup.irrigatesTheBlockPartByPart")
              : t("setup.irrigatesTheWholeBlockAtOnce"),
            usual?.wetted &&
              watched.knownBy !== "design" &&
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
        </ChoiceField>
        <ChoiceField label={t("setup.knownBy")} field={form.register("knownBy")}>
          <option value="design">{t("setup.itsDesign")}</option>
          <option value="rate">{t("setup.applicationRate")}</option>
          <option value="flow">{t("setup.flowToTheBlock")}</option>
        </ChoiceField>
        {watched.knownBy === "rate" && (
          <TextField
            label={t("setup.rate")}
            unit={measure(units, "rate").label}
            numeric
            required
            field={form.register("rate")}
            error={errors.rate?.message}
          />
        )}
        {watched.knownBy === "flow" && (
          <TextField
            label={t("setup.flow")}
            unit={measure(units, "flow").label}
            numeric
            required
            field={form.register("flow")}
            error={errors.flow?.message}
          />
        )}
        <TextField
          label={t("setup.efficiency")}
          unit="%"
          numeric
          required
          {...(usual ? { help: t("setup.usually", { range: range(usual.efficiency) }) } : {})}
          field={form.register("efficiency")}
          error={errors.efficiency?.message}
        />
        <TextField
          label={t("setup.minimumApplication")}
          unit={measure(units, "water").label}
          numeric
          help={t("setup.grossLeaveEmptyIfThereIsNone")}
          field={form.register("smallest")}
          error={errors.smallest?.message}
        />
        <TextField
          label={t("setup.maximumApplication")}
          unit={measure(units, "water").label}
          numeric
          help={t("setup.grossLeaveEmptyIfThereIsNone")}
          field={form.register("largest")}
          error={errors.largest?.message}
        />
        <TextField
          label={t("setup.roomLeftForRain")}
          unit={measure(units, "water").label}
          numeric
          help={t("setup.leftUnfilled")}
          field={form.register("rainRoom")}
          error={errors.rainRoom?.message}
        />
        <TextField
          label={t("setup.slope")}
          unit="%"
          numeric
          field={form.register("slope")}
          error={errors.slope?.message}
        />
        <TextField
          label={t("setup.irrigationWaterSalinityEcw")}
          unit="dS/m"
          numeric
          help={t("setup.leaveEmptyIfNotMeasured")}
          field={form.register("ecw")}
          error={errors.ecw?.message}
        />
        <TextField
          label={t("setup.waterTableDepth")}
          unit={measure(units, "depth").label}
          numeric
          help={t("setup.usedWhereNoObservationWellMeasuresIt")}
          field={form.register("table")}
          error={errors.table?.message}
        />
        <TextField
          label={t("setup.capillaryRise")}
          unit={measure(units, "waterDay").label}
          numeric
          help={t("setup.usedWhereNoWaterTableIsKnown")}
          field={form.register("rise")}
          error={errors.rise?.message}
        />
        {!moves && (
          <ChoiceField
            label={t("setup.irrigate")}
            field={form.register("daily")}
            help={t("setup.everyDayLittleAndOftenReplacingWhat")}
          >
            <option value="refill">{t("setup.byTheRefillPoint")}</option>
            <option value="daily">{t("setup.everyDay")}</option>
          </ChoiceField>
        )}
        <TextField
          label={t("setup.waterSupply")}
          help={t("setup.pumpMainOrDitch")}
          field={form.register("supply")}
          error={errors.supply?.message}
        />
        <ChoiceField
          label={t("setup.irrigator")}
          field={form.register("irrigator")}
          error={errors.irrigator?.message}
        >
          <option value="">{t("setup.notAssigned")}</option>
          {people.data?.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </ChoiceField>
      </Grid>
      {watched.knownBy === "design" && (
        <Box mt="4">
          <Controller
            control={form.control}
            name="design"
            render={({ field }) => (
              <DesignFields
                kind={watched.kind}
                form={field.value}
                change={field.onChange}
                problems={body ? { ...missing, ...problems } : problems}
                units={units}
              />
            )}
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
