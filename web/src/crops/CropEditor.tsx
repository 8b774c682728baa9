import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { measure, type UnitSystem } from "../units/format";
import { cropForm, cropIn, type CropForm } from "./cropForm";
import { useSaveCrop, type Crop } from "./queries";
import { t } from "./t";

interface Props {
  crop: Crop;
  units: UnitSystem;
  close: () => void;
  saved: (key: string) => void;
}

const put = (list: string[], i: number, v: string) => list.map((x, j) => (j === i ? v : x));

const STAGES = ["initial", "development", "mid season", "late season"] as const;
const WARMTH_METHODS = ["cut-off", "average", "single sine"] as const satisfies NonNullable<
  Crop["degree_days"]
>["method"][];

/** A crop of the farm's own: what is left as the book has it stays the book's. */
export function CropEditor({ crop, units, close, saved }: Props) {
  const { farm } = useSignedIn();
  const save = useSaveCrop(farm.slug, crop.own ? crop.key : null);
  const [form, setForm] = useState<CropForm>(() => cropForm(crop, units));
  const problems = problemsOf(save.error);
  const set = (part: Partial<CropForm>) => setForm({ ...form, ...part });
  const depth = measure(units, "depth").label;
  const four = { base: "1fr 1fr", md: "repeat(4, minmax(0, 1fr))" };
  return (
    <Box mt="4" maxW="860px">
      <Grid templateColumns={{ base: "1fr", md: "1fr 1.6fr" }} gap="3">
        <Line
          label={t("crops.name")}
          value={form.name}
          error={problems["name"]}
          placeholder={t("crops.own2", { name: crop.name })}
          change={(name) => set({ name })}
        />
        <Line
          label={t("crops.reasonForTheDifference")}
          value={form.reason}
          change={(reason) => set({ reason })}
        />
      </Grid>
      <Grid templateColumns={four} gap="3" mt="4">
        {STAGES.map((stage, i) => (
          <Line
            key={stage}
            label={t("crops.stage", { stage: t(`stage.${stage}`) })}
            unit={t("crops.days")}
            numeric
            value={form.days[i] ?? ""}
            error={i === 0 ? problems["stage_days"] : undefined}
            change={(v) => set({ days: put(form.days, i, v) })}
          />
        ))}
        {["start", "mid", "end"].map((part, i) => (
          <Line
            key={part}
            label={t("crops.kc2", { part })}
            numeric
            value={form.kc[i] ?? ""}
            error={i === 0 ? problems["kc"] : undefined}
            change={(v) => set({ kc: put(form.kc, i, v) })}
          />
        ))}
        <Choice
          label={t("crops.kcIsOn")}
          value={form.surface}
          error={problems["surface"]}
          change={(surface) => set({ surface })}
        >
          <option value="grass">{t("crops.grassEtEt0")}</option>
          <option value="alfalfa">{t("crops.alfalfaEtEtr")}</option>
        </Choice>
        {["start", "mid", "end"].map((part, i) => (
          <Line
            key={part}
            label={t("crops.kcb", { part })}
            numeric
            placeholder={t("crops.notKnown")}
            value={form.kcb[i] ?? ""}
            error={i === 0 ? problems["kcb"] : undefined}
            change={(v) => set({ kcb: put(form.kcb, i, v) })}
          />
        ))}
        <Line
          label={t("crops.heightFullGrown")}
          unit={depth}
          numeric
          value={form.height}
          error={problems["height_m"]}
          change={(height) => set({ height })}
        />
        <Line
          label={t("crops.rootsInitial")}
          unit={depth}
          numeric
          value={form.rootInitial}
          error={problems["root_initial_mm"]}
          change={(rootInitial) => set({ rootInitial })}
        />
        <Line
          label={t("crops.rootsFullGrown")}
          unit={depth}
          numeric
          value={form.rootSchedule}
          error={problems["root_schedule_mm"]}
          change={(rootSchedule) => set({ rootSchedule })}
        />
        <Line
          label={t("crops.rootsMaximum")}
          unit={depth}
          numeric
          value={form.rootDeep}
          change={(rootDeep) => set({ rootDeep })}
        />
        <Line
          label={t("crops.pAt5MmDay")}
          numeric
          value={form.p}
          error={problems["p"]}
          change={(p) => set({ p })}
        />
        <Line
          label={t("crops.tensionLimit")}
          unit="kPa"
          numeric
          value={form.tension}
          error={problems["tension_kpa"]}
          change={(tension) => set({ tension })}
        />
        <Line
          label={t("crops.saltThreshold")}
          unit="dS/m"
          numeric
          value={form.saltThreshold}
          error={problems["salt"]}
          change={(saltThreshold) => set({ saltThreshold })}
        />
        <Line
          label={t("crops.saltSlope")}
          unit="%"
          numeric
          value={form.saltSlope}
          change={(saltSlope) => set({ saltSlope })}
        />
      </Grid>
      <Text fontWeight="600" fontSize="sm" mt="4">
        {t("crops.degreeDaysOfEachStageLeaveEmpty")}
      </Text>
      <Grid templateColumns={four} gap="3" mt="1">
        {STAGES.map((stage, i) => (
          <Line
            key={stage}
            label={t(`stage.${stage}`)}
            unit="°C·d"
            numeric
            value={form.warmth[i] ?? ""}
            error={i === 0 ? problems["degree_days"] : undefined}
            change={(v) => set({ warmth: put(form.warmth, i, v) })}
          />
        ))}
        <Line
          label={t("crops.base")}
          unit="°C"
          numeric
          value={form.warmthBase}
          change={(warmthBase) => set({ warmthBase })}
        />
        <Line
          label={t("crops.upper")}
          unit="°C"
          numeric
          placeholder={t("crops.none")}
          value={form.warmthUpper}
          change={(warmthUpper) => set({ warmthUpper })}
        />
        <Choice
          label={t("crops.method")}
          value={form.warmthMethod}
          change={(warmthMethod) => set({ warmthMethod })}
        >
          {WARMTH_METHODS.map((method) => (
            <option key={method} value={method}>
              {t(`warmth.${method}`)}
            </option>
          ))}
        </Choice>
      </Grid>
      {save.error && <Notice error={save.error} />}
      <Flex gap="3" mt="4">
        <Button
          loading={save.isPending}
          onClick={() =>
            save.mutate(cropIn(form, crop.book_key, units), {
              onSuccess: (made) => saved(made.key),
            })
          }
        >
          {t("crops.saveCrop")}
        </Button>
        <Button variant="ghost" onClick={close}>
          {t("crops.cancel")}
        </Button>
      </Flex>
    </Box>
  );
}
