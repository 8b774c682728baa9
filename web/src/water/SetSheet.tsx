import { Box, Flex, Grid, GridItem, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { BlockPicker } from "../form/BlockPicker";
import { MomentLine } from "../form/MomentLine";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { FormSheet } from "../form/FormSheet";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { measure } from "../units/format";
import { useGiveWater, useMendSet, useWaterBlocks, type SetOut } from "./queries";
import { emptySet, formOf, setIn, type SetForm } from "./setForm";
import { t } from "./t";

interface Props {
  time: FarmTime;
  /** The set to correct or end; a new one otherwise. */
  set?: SetOut;
  ends?: boolean;
  close: () => void;
}

const STATUSES = {
  done: t("water.hasRun"),
  running: t("water.isRunning"),
  planned: t("water.isScheduled"),
};

/** Logs, plans, ends or corrects a set, on one block or several. */
export function SetSheet({ time, set, ends = false, close }: Props) {
  const { farm, units, may } = useSignedIn();
  const give = useGiveWater(farm.slug);
  const mend = useMendSet(farm.slug);
  const blocks = useWaterBlocks(farm.slug, !set);
  const [form, setForm] = useState<SetForm>(() =>
    set ? formOf(set, time, units, ends) : emptySet(time),
  );
  const change = (part: Partial<SetForm>) => setForm({ ...form, ...part });
  const error = set ? mend.error : give.error;
  const problems = problemsOf(error);
  const planned = form.status === "planned";
  const moves = set
    ? set.way !== null
    : blocks.data?.some((b) => b.moves && form.blocks.includes(b.id));

  function save() {
    const body = setIn(form, units, set);
    if (set) mend.mutate({ set: set.id, body }, { onSuccess: close });
    else give.mutate({ ...body, block_ids: form.blocks }, { onSuccess: close });
  }
  const title = set
    ? t("water.irrigation2", { ends: ends ? "yes" : "no", block: set.block })
    : t("water.logIrrigation");
  const moment = (label: string, field: "started" | "ended", path: string) => (
    <MomentLine
      label={label}
      value={form[field]}
      change={(value) => change({ [field]: value })}
      error={problems[path]}
    />
  );
  return (
    <FormSheet
      title={title}
      close={close}
      save={save}
      words={ends ? t("water.end") : planned ? t("water.schedule") : t("water.save")}
      pending={give.isPending || mend.isPending}
      size="lg"
    >
      {!set && blocks.isPending && <Loading what={t("water.loadingTheBlocks")} />}
      {!set && blocks.error && <Notice error={blocks.error} retry={() => void blocks.refetch()} />}
      {!set && blocks.data && (
        <BlockPicker
          blocks={blocks.data}
          chosen={form.blocks}
          choose={(picked) => change({ blocks: picked })}
          error={problems["block_ids"]}
        />
      )}
      {/* A day and a time each, with room for both. */}
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="3">
        {!ends && (
          <GridItem colSpan={{ base: 1, md: 2 }} maxW="260px">
            <Choice
              label={t("water.theIrrigation")}
              value={form.status}
              change={(v) => change({ status: v as SetForm["status"] })}
            >
              {Object.entries(STATUSES)
                .filter(([key]) => key !== "planned" || may("decide"))
                .map(([key, words]) => (
                  <option key={key} value={key}>
                    {words}
                  </option>
                ))}
            </Choice>
          </GridItem>
        )}
        {moment(planned ? t("water.starts") : t("water.started"), "started", "started_at")}
        {planned ? (
          <Line
            label={t("water.runningTime")}
            unit="h"
            numeric
            value={form.hours}
            change={(hours) => change({ hours })}
            error={problems["hours"] ?? problems["ended_at"]}
          />
        ) : (
          moment(
            form.status === "running" ? t("water.plannedEnd") : t("water.ended"),
            "ended",
            "ended_at",
          )
        )}
      </Grid>
      <Grid
        templateColumns={{ base: "1fr", md: form.by === "hours" ? "2fr 1fr" : "1.8fr 1fr 1fr" }}
        gap="3"
        mt="3"
      >
        <Choice
          label={t("water.amountBy")}
          value={form.by}
          change={(v) => change({ by: v as SetForm["by"] })}
        >
          <option value="hours">{t("water.runningTimeAndEachBlocksRate")}</option>
          <option value="meter">{t("water.twoMeterReadings")}</option>
          <option value="depth">{t("water.grossDepth")}</option>
        </Choice>
        {form.by === "meter" && (
          <>
            <Line
              label={t("water.meterAtTheStart")}
              unit="m³"
              numeric
              value={form.meterStart}
              change={(meterStart) => change({ meterStart })}
              error={problems["meter_start_m3"]}
            />
            <Line
              label={t("water.meterAtTheEnd")}
              unit="m³"
              numeric
              value={form.meterEnd}
              change={(meterEnd) => change({ meterEnd })}
              error={problems["meter_end_m3"]}
            />
          </>
        )}
        {form.by === "depth" && (
          <Line
            label={t("water.grossDepth2")}
            unit={measure(units, "water").label}
            numeric
            value={form.depth}
            change={(depth) => change({ depth })}
            error={problems["gross_mm"]}
          />
        )}
      </Grid>
      <Flex gap="3" mt="3">
        <Box w="170px" flexShrink="0">
          <Line
            label={t("water.partIrrigated")}
            unit="%"
            numeric
            value={form.share}
            change={(share) => change({ share })}
            error={problems["share"]}
          />
        </Box>
        <Line
          label={t("water.note")}
          value={form.note}
          change={(note) => change({ note })}
          error={problems["note"]}
        />
      </Flex>
      {moves && (
        <Flex gap="3" mt="3" wrap="wrap" align="end">
          <Box w="170px" flexShrink="0">
            <Line
              label={t("water.pathFrom")}
              unit="%"
              numeric
              placeholder="0"
              value={form.placeFrom}
              change={(placeFrom) => change({ placeFrom })}
              error={problems["place_from"]}
            />
          </Box>
          <Box w="170px" flexShrink="0">
            <Line
              label={t("water.pathTo")}
              unit="%"
              numeric
              placeholder="100"
              value={form.placeTo}
              change={(placeTo) => change({ placeTo })}
              error={problems["place_to"] ?? problems["positions"]}
            />
          </Box>
          <Text fontSize="sm" color="inkSoft" flex="1 1 220px">
            {t("water.ofTheMachinesPathOverTheBlock2")}
          </Text>
        </Flex>
      )}
      {form.by === "meter" && form.blocks.length > 1 && (
        <Text fontSize="sm" color="inkSoft" mt="2">
          {t("water.theMeteredVolumeIsDividedAmongThe")}
        </Text>
      )}
      {set !== undefined && set.meter_shared_with > 0 && (
        <Text fontSize="sm" color="inkSoft" mt="2">
          {form.by === "meter"
            ? t("water.thisMeterAlsoMeasuredTheWaterOf", { others: others(set) })
            : t("water.withoutThisBlockTheMeteredVolumeGoes", { others: others(set) })}
        </Text>
      )}
      {error && <Notice error={error} />}
    </FormSheet>
  );
}

function others(set: SetOut): string {
  const count = set.meter_shared_with;
  return count === 1 ? t("water.oneOtherBlock") : t("water.otherBlocks", { count });
}
