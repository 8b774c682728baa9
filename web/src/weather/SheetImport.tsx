import { Box, Button, Field, NativeSelect, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { FileButton } from "../form/FileButton";
import { useSignedIn } from "../session/context";
import { count, figure, measure } from "../units/format";
import { useCheckSheet, useStoreSheet, type Stamp, type StationFile } from "./queries";
import { temperature, temperatureUnit } from "./temperature";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

/** Brings in a station's days: checked and shown first, then stored whole or not at all. */
export function SheetImport({ close }: { close: () => void }) {
  const { farm } = useSignedIn();
  const check = useCheckSheet(farm.slug);
  const store = useStoreSheet(farm.slug);
  const [file, setFile] = useState<File | null>(null);
  const [stamp, setStamp] = useState<Stamp>("end");
  const found = store.data ?? check.data;
  const error = store.error ?? check.error;
  const news = found ? found.new + found.changed : 0;
  const footer = store.data ? (
    <Button size="sm" onClick={close}>
      {t("weather.done")}
    </Button>
  ) : (
    <>
      <Button variant="ghost" size="sm" onClick={close}>
        {t("weather.cancel")}
      </Button>
      <Button
        size="sm"
        disabled={!check.data || !file || news === 0}
        loading={store.isPending}
        onClick={() => file && store.mutate({ file, stamp })}
      >
        {t("weather.import", { data: check.data ? count(news) : "", news })}
      </Button>
    </>
  );
  return (
    <Sheet title={t("weather.importStationData")} close={close} footer={footer} size="lg">
      <Text fontSize="sm" color="inkSoft" mb="3">
        {t("weather.csvOrTabSeparatedTextOneRow")}
      </Text>
      {!store.data && (
        <FileButton
          accept=".csv,.txt,.tsv"
          sample="weather-days.csv"
          file={file}
          choose={(next) => {
            setFile(next);
            store.reset();
            check.mutate({ file: next, stamp });
          }}
        />
      )}
      {error && <Notice error={error} />}
      {file && found?.step_minutes != null && !store.data && (
        <Field.Root mt="3">
          <Field.Label>{t("weather.timesMark")}</Field.Label>
          <NativeSelect.Root size="sm" maxW="20rem">
            <NativeSelect.Field
              bg="sheet"
              value={stamp}
              onChange={(e) => {
                const next = e.target.value as Stamp;
                setStamp(next);
                check.mutate({ file, stamp: next });
              }}
            >
              <option value="end">{t("weather.theEndOfEachPeriod")}</option>
              <option value="start">{t("weather.theStartOfEachPeriod")}</option>
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
          <Field.HelperText>
            {t("weather.theFileHasARowEveryMin", { stepMinutes: found.step_minutes })}
          </Field.HelperText>
        </Field.Root>
      )}
      {found && <Found found={found} />}
    </Sheet>
  );
}

const LISTED = 6;

/** The first few, and how many more. */
function listed(days: string[]): string {
  const more = days.length - LISTED;
  return (
    days.slice(0, LISTED).join(", ") +
    (more > 0 ? ` ${t("weather.andMore", { more: count(more) })}` : "")
  );
}

function Found({ found }: { found: StationFile }) {
  const { units } = useSignedIn();
  return (
    <Box mt="3">
      <Text role="status">
        {t("weather.days", { stored: found.stored ? "yes" : "no", days: count(found.days) })}{" "}
        {shownDay(found.first ?? "")} {t("weather.to2")} {shownDay(found.last ?? "")}
        {t("weather.newChangedUnchangedOfThemHaveA", {
          new: count(found.new),
          changed: count(found.changed),
          unchanged: count(found.unchanged),
          withEt: count(found.with_et),
        })}
      </Text>
      {found.incomplete.length > 0 && (
        <Text fontSize="sm" color="inkSoft">
          {t("weather.leftOutHoursMissing", { listed: listed(found.incomplete) })}
        </Text>
      )}
      {found.ignored.length > 0 && (
        <Text fontSize="sm" color="inkSoft">
          {t("weather.notUsed", { ignored: found.ignored.join(", ") })}
        </Text>
      )}
      <Table.ScrollArea tabIndex={0} mt="2">
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("weather.day")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">{temperatureUnit(units)}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("weather.rain2", { label: measure(units, "water").label })}
              </Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("weather.et", { label: measure(units, "waterDay").label })}
              </Table.ColumnHeader>
              <Table.ColumnHeader>{t("weather.method")}</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {found.shown.map((d) => (
              <Table.Row key={d.date} bg="transparent">
                <Table.Cell px="0">{shownDay(d.date)}</Table.Cell>
                <Table.Cell textAlign="end" whiteSpace="nowrap">
                  {t("weather.to3", {
                    temperature: temperature(d.t_min_c, units),
                    temperature2: temperature(d.t_max_c, units),
                  })}
                </Table.Cell>
                <Table.Cell textAlign="end">{figure(d.rain_mm, units, "water")}</Table.Cell>
                <Table.Cell textAlign="end">{figure(d.et0_mm, units, "waterDay")}</Table.Cell>
                <Table.Cell color="inkSoft">
                  {d.et_method || t("weather.etCannotBeCalculated")}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </Box>
  );
}
