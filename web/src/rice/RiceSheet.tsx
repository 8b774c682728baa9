import { Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { DateLine } from "../form/DateLine";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { RemoveButton } from "../form/RemoveButton";
import { useSignedIn } from "../session/context";
import vocabulary from "../../../server/base/vocabulary.json";
import { forForm, measure, typed } from "../units/format";
import { useRemovePaddy, useSavePaddy, type Paddy, type PaddyIn } from "./queries";
import { t } from "./t";

type Started = Paddy["started"];
const STARTED = Object.keys(vocabulary.started) as Started[];
const NITROGEN_DATES = 3;
const USUAL_BUND_MM = 200;
const USUAL_REFILL_MM = 50;

interface Props {
  block: { id: number; name: string };
  /** As it is described; null where it is not yet. */
  paddy: Paddy | null;
  close: () => void;
}

/** A block described as a rice field: bunds, start, own measurements, nitrogen. */
export function RiceSheet({ block, paddy, close }: Props) {
  const { farm, units } = useSignedIn();
  const save = useSavePaddy(farm.slug, block.id);
  const remove = useRemovePaddy(farm.slug, block.id);
  const [form, setForm] = useState(() => ({
    bund: forForm(paddy?.bund_mm ?? USUAL_BUND_MM, units, "depth"),
    refill: forForm(paddy?.refill_to_mm ?? USUAL_REFILL_MM, units, "depth"),
    started: paddy?.started ?? "transplanted",
    ponded: paddy?.keep_ponded_until ?? "",
    drying: paddy?.drying_from ?? "",
    percolation: forForm(paddy?.percolation_mm_day, units, "waterDay"),
    porosity: paddy?.porosity ? String(Number((paddy.porosity * 100).toPrecision(4))) : "",
    nitrogen: Array.from({ length: NITROGEN_DATES }, (_, k) => paddy?.nitrogen[k] ?? ""),
  }));
  const set = (more: Partial<typeof form>) => setForm((now) => ({ ...now, ...more }));
  const problems = problemsOf(save.error);
  const depth = measure(units, "depth").label;

  function body(): PaddyIn {
    const share = typed(form.porosity, "metric", "depth");
    return {
      bund_mm: typed(form.bund, units, "depth", paddy?.bund_mm) ?? 0,
      refill_to_mm: typed(form.refill, units, "depth", paddy?.refill_to_mm) ?? 0,
      started: form.started,
      keep_ponded_until: form.ponded || null,
      drying_from: form.drying || null,
      percolation_mm_day: typed(
        form.percolation,
        units,
        "waterDay",
        paddy?.percolation_mm_day ?? null,
      ),
      porosity: share === null ? null : share / measure("metric", "depth").size / 100,
      nitrogen: form.nitrogen.filter(Boolean),
    };
  }

  return (
    <FormSheet
      title={t("rice.describe", { name: block.name })}
      close={close}
      save={() => save.mutate(body(), { onSuccess: close })}
      words={t("rice.save")}
      pending={save.isPending}
      other={
        paddy && (
          <RemoveButton
            words={t("rice.remove")}
            pending={remove.isPending}
            press={() => remove.mutate(undefined, { onSuccess: close })}
          />
        )
      }
    >
      <Grid gap="3" templateColumns={{ base: "1fr", sm: "1fr 1fr" }}>
        <Line
          label={t("rice.bund")}
          value={form.bund}
          change={(bund) => set({ bund })}
          unit={depth}
          numeric
          error={problems["bund_mm"]}
        />
        <Line
          label={t("rice.refillLevel")}
          value={form.refill}
          change={(refill) => set({ refill })}
          unit={depth}
          numeric
          error={problems["refill_to_mm"]}
        />
        <Choice
          label={t("rice.started")}
          value={form.started}
          change={(v) => set({ started: v as Started })}
        >
          {STARTED.map((one) => (
            <option key={one} value={one}>
              {t(`started.${one}`)}
            </option>
          ))}
        </Choice>
        <DateLine
          label={t("rice.keepPondedUntil")}
          value={form.ponded}
          change={(ponded) => set({ ponded })}
          error={problems["keep_ponded_until"]}
          help={t("rice.keepPondedHelp")}
        />
        <DateLine
          label={t("rice.dryingFrom")}
          value={form.drying}
          change={(drying) => set({ drying })}
          error={problems["drying_from"]}
          help={t("rice.dryingFromHelp")}
        />
        <Line
          label={t("rice.percolationMeasured")}
          value={form.percolation}
          change={(percolation) => set({ percolation })}
          unit={measure(units, "waterDay").label}
          numeric
          error={problems["percolation_mm_day"]}
          help={t("rice.measuredHelp")}
        />
        <Line
          label={t("rice.porosityMeasured")}
          value={form.porosity}
          change={(porosity) => set({ porosity })}
          unit="%"
          numeric
          error={problems["porosity"]}
        />
        {form.nitrogen.map((on, k) => (
          <DateLine
            key={k}
            label={t("rice.nitrogenOn", { number: k + 1 })}
            value={on}
            change={(day) => set({ nitrogen: form.nitrogen.map((d, j) => (j === k ? day : d)) })}
          />
        ))}
      </Grid>
      <Text fontSize="xs" color="inkSoft" mt="3">
        {t("rice.reasonsToDry")}
      </Text>
      {save.error && <Notice error={save.error} />}
      {remove.error && <Notice error={remove.error} />}
    </FormSheet>
  );
}
