import { Flex, Grid, SegmentGroup, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Answer } from "../answer/types";
import { Notice } from "../app/Notice";
import { MomentLine } from "../form/MomentLine";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { FormSheet } from "../form/FormSheet";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { localInput } from "../time/localInput";
import { forForm, measure, typed } from "../units/format";
import { useRunHours } from "../wettings/queries";
import { RunTimeLine } from "../wettings/RunTime";
import { useDecide, type DecisionIn, type Why } from "./queries";
import { WHYS } from "./words";
import { t } from "./t";

export type Change = "changed" | "declined";

interface Props {
  block: { id: number; name: string; answer: Answer };
  time: FarmTime;
  start: Change;
  /** Hours from now and of running to begin with, from a what-if. */
  wanted?: { start: number; hours: number };
  close: () => void;
}

const CHOICES = [
  { value: "changed", label: t("decide.adjustTimeOrAmount") },
  { value: "declined", label: t("decide.skip") },
];

/** Changes today's advice, or declines it with a reason; both are kept. */
export function DecideSheet({ block, time, start, wanted, close }: Props) {
  const { farm, units } = useSignedIn();
  const decide = useDecide(farm.slug);
  const runHours = useRunHours(farm.slug, block.id);
  const { answer } = block;
  const advised = answer.amount?.gross_mm;
  const hours = wanted?.hours ?? answer.run?.total_hours ?? answer.amount?.hours;
  const [kind, setKind] = useState<Change>(start);
  const [at, setAt] = useState(() =>
    localInput(
      time,
      wanted ? time.at(wanted.start) : answer.start_at ? new Date(answer.start_at) : time.now,
    ),
  );
  const [by, setBy] = useState<"hours" | "depth">("hours");
  const [run, setRun] = useState(hours ? String(Number(hours.toFixed(2))) : "");
  const [depth, setDepth] = useState(forForm(advised, units, "water"));
  const [why, setWhy] = useState<Why | "">("");
  const [reason, setReason] = useState("");
  const problems = problemsOf(decide.error);

  function body(): DecisionIn {
    if (kind === "declined") return { kind, why: why || null, reason };
    return {
      kind,
      start_at: at,
      hours: by === "hours" ? typed(run, "metric", "water") : null,
      gross_mm: by === "depth" ? typed(depth, units, "water", advised) : null,
      reason,
    };
  }
  return (
    <FormSheet
      title={block.name}
      close={close}
      save={() => decide.mutate({ block: block.id, body: body() }, { onSuccess: close })}
      words={kind === "changed" ? t("decide.schedule") : t("decide.skip")}
      pending={decide.isPending}
    >
      <SegmentGroup.Root
        size="sm"
        value={kind}
        onValueChange={(e) => setKind((e.value ?? "changed") as Change)}
      >
        <SegmentGroup.Indicator />
        <SegmentGroup.Items items={CHOICES} />
      </SegmentGroup.Root>
      <Grid gap="3" mt="4">
        {kind === "changed" ? (
          <>
            <MomentLine
              label={t("decide.startTheFarmsTime")}
              value={at}
              change={setAt}
              error={problems["started_at"] ?? problems["start_at"]}
            />
            <Flex gap="3" align="end">
              <Choice
                label={t("decide.amountBy")}
                value={by}
                change={(v) => setBy(v as "hours" | "depth")}
              >
                <option value="hours">{t("decide.runningTime")}</option>
                <option value="depth">{t("decide.grossDepth")}</option>
              </Choice>
              {by === "hours" ? (
                <Line
                  label={t("decide.hours")}
                  unit="h"
                  numeric
                  value={run}
                  change={setRun}
                  error={problems["hours"]}
                />
              ) : (
                <Line
                  label={t("decide.depth")}
                  unit={measure(units, "water").label}
                  numeric
                  value={depth}
                  change={setDepth}
                  error={problems["gross_mm"]}
                />
              )}
            </Flex>
            {by === "hours" && runHours.data && (
              <RunTimeLine
                runHours={runHours.data}
                units={units}
                use={(enough) => setRun(String(Number(enough.toFixed(2))))}
              />
            )}
          </>
        ) : (
          <Choice
            label={t("decide.reason")}
            value={why}
            change={(v) => setWhy(v as Why)}
            error={problems["why"]}
            help={t("decide.keptWithTheAdviceAskedAgainTomorrow")}
          >
            <option value="">{t("decide.choose")}</option>
            {WHYS.map((one) => (
              <option key={one} value={one}>
                {t(`why.${one}`)}
              </option>
            ))}
          </Choice>
        )}
        <Line
          label={t("decide.note")}
          value={reason}
          change={setReason}
          error={problems["reason"]}
          placeholder={kind === "changed" ? t("decide.optional") : ""}
        />
      </Grid>
      {decide.error && <Notice error={decide.error} />}
      <Text fontSize="xs" color="inkSoft" mt="3">
        {t("decide.theAdviceStaysOnRecordBesideYour")}
      </Text>
    </FormSheet>
  );
}
