import { Box, Button, Field, Flex, Input, Table, Text } from "@chakra-ui/react";
import { useState, type SyntheticEvent } from "react";
import { Refusal } from "../api/client";
import { Notice } from "../app/Notice";
import { MomentLine } from "../form/MomentLine";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { number } from "../units/format";
import { localInput } from "../time/localInput";
import { useLast, useRecord, type Instrument, type ReadingUnit } from "./queries";
import { UnitChoice } from "./UnitChoice";
import { depthWords } from "./depthWords";
import { t } from "./t";

/** Readings of one visit, typed beside the last ones. */
export function HandReadings({ instrument, time }: { instrument: Instrument; time: FarmTime }) {
  const { farm, units } = useSignedIn();
  const last = useLast(farm.slug, instrument.id);
  const record = useRecord(farm.slug, instrument.id);
  const [at, setAt] = useState(() => localInput(time));
  const [chosenUnit, setUnit] = useState<ReadingUnit | null>(null);
  // The unit of the last round is most likely that of this one: the gauge is the same.
  const unit = chosenUnit ?? last.data?.[0]?.unit ?? instrument.units[0] ?? "kPa";
  const [values, setValues] = useState<Record<number, string>>({});
  const typedIn = instrument.channels.filter((c) => (values[c.id] ?? "").trim() !== "");
  const wrong = typedIn.find((c) => Number.isNaN(Number((values[c.id] ?? "").replace(",", "."))));
  const problems = record.error instanceof Refusal ? record.error.problems : [];

  function submit(event: SyntheticEvent) {
    event.preventDefault();
    if (wrong) return;
    record.mutate(
      {
        time: at,
        unit,
        values: typedIn.map((c) => ({
          channel_id: c.id,
          value: Number((values[c.id] ?? "").replace(",", ".")),
        })),
      },
      { onSuccess: () => setValues({}) },
    );
  }

  return (
    <form onSubmit={submit}>
      <Flex gap="3" wrap="wrap" align="end" mb="3">
        <Box w="260px">
          <MomentLine label={t("readings.readAt", { zone: time.zone })} value={at} change={setAt} />
        </Box>
        <UnitChoice
          label={t("readings.unit")}
          instrument={instrument}
          unit={unit}
          choose={setUnit}
        />
      </Flex>
      <Table.Root size="sm" maxW="560px" bg="transparent">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("readings.depth")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("readings.last")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("readings.now")}</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {instrument.channels.map((c) => {
            const before = last.data?.find((r) => r.channel_id === c.id);
            const order = typedIn.findIndex((one) => one.id === c.id);
            const problem = problems.find((p) => p.field === `values.${order}`);
            const depth = depthWords(c.depth_mm, units);
            return (
              <Table.Row key={c.id} bg="transparent">
                <Table.Cell px="0" whiteSpace="nowrap">
                  {depth || t("readings.reading")}
                </Table.Cell>
                <Table.Cell color="inkSoft">
                  {before
                    ? `${number(before.value, before.value % 1 === 0 ? 0 : 3)} ${before.unit}, ${time.full(new Date(before.time))}`
                    : t("readings.noneYet")}
                </Table.Cell>
                <Table.Cell>
                  <Field.Root invalid={Boolean(problem) || wrong?.id === c.id}>
                    <Input
                      size="sm"
                      w="110px"
                      bg="sheet"
                      inputMode="decimal"
                      aria-label={
                        depth ? t("readings.readingAt", { depth }) : t("readings.reading")
                      }
                      value={values[c.id] ?? ""}
                      onChange={(e) => setValues({ ...values, [c.id]: e.target.value })}
                    />
                    <Field.ErrorText>
                      {problem?.message ?? t("readings.enterANumberOrLeaveItEmpty")}
                    </Field.ErrorText>
                  </Field.Root>
                </Table.Cell>
              </Table.Row>
            );
          })}
        </Table.Body>
      </Table.Root>
      {instrument.kind === "rice_tube" && (
        <Text fontSize="sm" color="inkSoft" mt="2">
          {t("readings.tubeSigns")}
        </Text>
      )}
      {record.error && <Notice error={record.error} />}
      <Box aria-live="polite" role="status">
        {record.data && (
          <Text mt="2" fontWeight="600">
            {t("readings.savedNewChangedUnchanged", {
              new: record.data.new,
              changed: record.data.changed,
              unchanged: record.data.unchanged,
            })}
          </Text>
        )}
      </Box>
      <Button
        type="submit"
        size="sm"
        mt="3"
        disabled={typedIn.length === 0}
        loading={record.isPending}
      >
        {t("readings.saveReadings")}
      </Button>
    </form>
  );
}
