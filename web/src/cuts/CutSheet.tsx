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
import { useRemoveCutPlan, useSaveCutPlan, type CutPlan, type CutPlanIn } from "./queries";
import { t } from "./t";

type Harvested = CutPlan["harvested"];
const HARVESTED = Object.keys(vocabulary.harvested) as Harvested[];
const DATES = 4;
const USUAL_DRY_DAYS = 3;
const USUAL_GRAZED_DAYS = "4";

interface Form {
  harvested: Harvested;
  dates: string[];
  every: string;
  last: string;
  dry: string;
  taken: string;
  rotation: string;
  place: string;
}

interface Props {
  block: { id: number; name: string };
  /** As it is settled; null where the block has no calendar. */
  plan: CutPlan | null;
  close: () => void;
}

const shown = (value: number | null | undefined) =>
  value === null || value === undefined ? "" : String(value);

function whole(text: string): number | null {
  const value = Number(text.trim());
  return text.trim() === "" || !Number.isFinite(value) ? null : Math.round(value);
}

/** A calendar of cuts or grazings, which makes its own holds. */
export function CutSheet({ block, plan, close }: Props) {
  const { farm } = useSignedIn();
  const save = useSaveCutPlan(farm.slug, block.id);
  const remove = useRemoveCutPlan(farm.slug, block.id);
  const [form, setForm] = useState<Form>(() => ({
    harvested: plan?.harvested ?? "cut",
    dates: Array.from(
      { length: Math.max(DATES, plan?.planned.length ?? 0) },
      (_, k) => plan?.planned[k] ?? "",
    ),
    every: shown(plan?.every_days),
    last: plan?.last_on ?? "",
    dry: shown(plan?.dry_before_days ?? USUAL_DRY_DAYS),
    taken: shown(plan?.taken_days),
    rotation: plan?.rotation ?? "",
    place: shown(plan?.place ?? 1),
  }));
  const set = (more: Partial<typeof form>) => setForm((now) => ({ ...now, ...more }));
  const problems = problemsOf(save.error);
  const grazed = form.harvested === "grazed";

  function body(): CutPlanIn {
    return {
      harvested: form.harvested,
      planned: form.dates.filter(Boolean),
      every_days: whole(form.every),
      last_on: form.last || null,
      dry_before_days: whole(form.dry) ?? 0,
      taken_days: whole(form.taken),
      rotation: grazed ? form.rotation : "",
      place: whole(form.place) ?? 1,
    };
  }

  return (
    <FormSheet
      title={t("cuts.calendarOf", { name: block.name })}
      close={close}
      save={() => save.mutate(body(), { onSuccess: close })}
      words={t("cuts.save")}
      pending={save.isPending}
      other={
        plan && (
          <RemoveButton
            words={t("cuts.remove")}
            pending={remove.isPending}
            press={() => remove.mutate(undefined, { onSuccess: close })}
          />
        )
      }
    >
      <Grid gap="3" templateColumns={{ base: "1fr", sm: "1fr 1fr" }}>
        <Choice
          label={t("cuts.harvested")}
          value={form.harvested}
          change={(v) =>
            set({
              harvested: v as Harvested,
              taken: v === "grazed" && form.taken === "" ? USUAL_GRAZED_DAYS : form.taken,
            })
          }
        >
          {HARVESTED.map((h) => (
            <option key={h} value={h}>
              {t(`harvested.${h}`)}
            </option>
          ))}
        </Choice>
        <Line
          label={t("cuts.every")}
          value={form.every}
          change={(every) => set({ every })}
          unit={t("cuts.days")}
          numeric
          error={problems["every_days"]}
          help={t("cuts.everyHelp")}
        />
        <Line
          label={t("cuts.dryBefore")}
          value={form.dry}
          change={(dry) => set({ dry })}
          unit={t("cuts.days")}
          numeric
          error={problems["dry_before_days"]}
        />
        <Line
          label={grazed ? t("cuts.grazedFor") : t("cuts.baledAfter")}
          value={form.taken}
          change={(taken) => set({ taken })}
          unit={t("cuts.days")}
          numeric
          error={problems["taken_days"]}
          help={grazed ? undefined : t("cuts.baledHelp")}
        />
        <DateLine
          label={t("cuts.lastOn")}
          value={form.last}
          change={(last) => set({ last })}
          error={problems["last_on"]}
        />
        {grazed && (
          <>
            <Line
              label={t("cuts.rotation")}
              value={form.rotation}
              change={(rotation) => set({ rotation })}
              help={t("cuts.rotationHelp")}
            />
            <Line
              label={t("cuts.place")}
              value={form.place}
              change={(place) => set({ place })}
              numeric
              error={problems["place"]}
            />
          </>
        )}
      </Grid>
      <Text fontWeight="700" mt="4">
        {t("cuts.settledDates")}
      </Text>
      <Grid gap="3" templateColumns={{ base: "1fr", sm: "1fr 1fr" }} mt="1">
        {form.dates.map((on, k) => (
          <DateLine
            key={k}
            label={t("cuts.dateOf", { number: k + 1 })}
            value={on}
            change={(day) => set({ dates: form.dates.map((d, j) => (j === k ? day : d)) })}
          />
        ))}
      </Grid>
      {problems["planned"] && (
        <Text fontSize="xs" color="rust">
          {problems["planned"]}
        </Text>
      )}
      {save.error && <Notice error={save.error} />}
      {remove.error && <Notice error={remove.error} />}
    </FormSheet>
  );
}
