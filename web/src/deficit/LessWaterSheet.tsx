import { Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { DateLine } from "../form/DateLine";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { RemoveButton } from "../form/RemoveButton";
import { useSignedIn } from "../session/context";
import { forForm, measure, typed } from "../units/format";
import { useRemoveLessWater, useSaveLessWater, type LessWater, type LessWaterIn } from "./queries";
import { t } from "./t";

type Stage = LessWaterIn["stages"][number]["stage"];
type Kind = "usual" | "share" | "refill";
const STAGES: Stage[] = ["initial", "development", "mid season", "late season"];
const USUAL: Record<Kind, string> = { usual: "", share: "70", refill: "65" };

interface Props {
  block: { id: number; name: string };
  /** As it is planned; null where the block is watered as usual. */
  plan: LessWater | null;
  close: () => void;
}

interface Entry {
  kind: Kind;
  percent: string;
}

function entryOf(plan: LessWater | null, stage: Stage): Entry {
  const found = plan?.stages.find((s) => s.stage === stage);
  const share = found?.use_share ?? found?.allowed;
  if (share === null || share === undefined) return { kind: "usual", percent: "" };
  const kind = found?.use_share === null ? "refill" : "share";
  return { kind, percent: String(Number((share * 100).toPrecision(4))) };
}

/** Less water than the crop could use, stage by stage. */
export function LessWaterSheet({ block, plan, close }: Props) {
  const { farm, units } = useSignedIn();
  const save = useSaveLessWater(farm.slug, block.id);
  const remove = useRemoveLessWater(farm.slug, block.id);
  const [stages, setStages] = useState(
    () => Object.fromEntries(STAGES.map((s) => [s, entryOf(plan, s)])) as Record<Stage, Entry>,
  );
  const [since, setSince] = useState(plan?.since ?? "");
  const [application, setApplication] = useState(forForm(plan?.application_mm, units, "water"));
  const problems = problemsOf(save.error);
  const put = (stage: Stage, more: Partial<Entry>) =>
    setStages((now) => ({ ...now, [stage]: { ...now[stage], ...more } }));
  const planned = STAGES.filter((s) => stages[s].kind !== "usual");

  function body(): LessWaterIn {
    return {
      stages: planned.map((stage) => {
        const share = typed(stages[stage].percent, "metric", "share") ?? 0;
        return stages[stage].kind === "share"
          ? { stage, use_share: share, allowed: null }
          : { stage, use_share: null, allowed: share };
      }),
      since: since || null,
      application_mm: typed(application, units, "water", plan?.application_mm ?? null),
    };
  }

  return (
    <FormSheet
      title={t("deficit.lessWaterFor", { name: block.name })}
      close={close}
      save={() => save.mutate(body(), { onSuccess: close })}
      words={t("deficit.save")}
      pending={save.isPending}
      disabled={planned.length === 0}
      other={
        plan && (
          <RemoveButton
            words={t("deficit.remove")}
            pending={remove.isPending}
            press={() => remove.mutate(undefined, { onSuccess: close })}
          />
        )
      }
    >
      <Text fontSize="sm" color="inkSoft" mb="2">
        {t("deficit.help")}
      </Text>
      {STAGES.map((stage) => (
        <Grid key={stage} gap="3" templateColumns={{ base: "1fr", sm: "2fr 1fr" }} mb="2">
          <Choice
            label={t(`stage.${stage}`)}
            value={stages[stage].kind}
            change={(v) => put(stage, { kind: v as Kind, percent: USUAL[v as Kind] })}
          >
            <option value="usual">{t("deficit.asUsual")}</option>
            <option value="share">{t("deficit.byShare")}</option>
            <option value="refill">{t("deficit.byRefill")}</option>
          </Choice>
          {stages[stage].kind !== "usual" && (
            <Line
              label={stages[stage].kind === "share" ? t("deficit.share") : t("deficit.used")}
              value={stages[stage].percent}
              change={(value) => put(stage, { percent: value })}
              unit="%"
              numeric
            />
          )}
        </Grid>
      ))}
      {planned.some((s) => stages[s].kind === "share") && (
        <Grid gap="3" templateColumns={{ base: "1fr", sm: "1fr 1fr" }}>
          <DateLine
            label={t("deficit.countedFrom")}
            value={since}
            change={setSince}
            error={problems["since"]}
            help={t("deficit.countedFromHelp")}
          />
          <Line
            label={t("deficit.atATime")}
            value={application}
            change={setApplication}
            unit={measure(units, "water").label}
            numeric
            error={problems["application_mm"]}
            help={t("deficit.atATimeHelp")}
          />
        </Grid>
      )}
      {save.error && <Notice error={save.error} />}
      {remove.error && <Notice error={remove.error} />}
    </FormSheet>
  );
}
