import { Box, Button, Field, NativeSelect, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { FileButton } from "../form/FileButton";
import { useSignedIn } from "../session/context";
import { count, figure, measure } from "../units/format";
import { useCheckSheet, useStoreSheet, type Stamp, type StationFile } from "./queries";
import { temperature, temperatureUnit } from "./temperature";

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
      Done
    </Button>
  ) : (
    <>
      <Button variant="ghost" size="sm" onClick={close}>
        Cancel
      </Button>
      <Button
        size="sm"
        disabled={!check.data || !file || news === 0}
        loading={store.isPending}
        onClick={() => file && store.mutate({ file, stamp })}
      >
        Bring in {check.data ? count(news) : ""} {news === 1 ? "day" : "days"}
      </Button>
    </>
  );
  return (
    <Sheet title="A station's sheet" close={close} footer={footer} size="lg">
      <Text fontSize="sm" color="inkSoft" mb="3">
        CSV or tab-separated text, one row a day, columns in any order with their units in the
        heading, such as: date, tmin C, tmax C, rh max, rh min, wind m/s, solar MJ/m2, rain mm. Or
        one row an hour or less: time, temp C, rh, wind m/s, solar W/m2, rain mm.
      </Text>
      {!store.data && (
        <FileButton
          accept=".csv,.txt,.tsv"
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
          <Field.Label>Times mark</Field.Label>
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
              <option value="end">The end of each period</option>
              <option value="start">The start of each period</option>
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
          <Field.HelperText>The file has a row every {found.step_minutes} min.</Field.HelperText>
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
  return days.slice(0, LISTED).join(", ") + (more > 0 ? ` and ${count(more)} more` : "");
}

function Found({ found }: { found: StationFile }) {
  const { units } = useSignedIn();
  return (
    <Box mt="3">
      <Text role="status">
        {found.stored ? "Brought in" : "Would bring"}: {count(found.days)} days, {found.first} to{" "}
        {found.last}; {count(found.new)} new, {count(found.changed)} changed,{" "}
        {count(found.unchanged)} as they were. {count(found.with_et)} of them have a reference ET.
      </Text>
      {found.incomplete.length > 0 && (
        <Text fontSize="sm" color="inkSoft">
          Left out, hours missing: {listed(found.incomplete)}.
        </Text>
      )}
      {found.ignored.length > 0 && (
        <Text fontSize="sm" color="inkSoft">
          Not used: {found.ignored.join(", ")}.
        </Text>
      )}
      <Table.ScrollArea mt="2">
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">Day</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">{temperatureUnit(units)}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                Rain {measure(units, "water").label}
              </Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                ET {measure(units, "waterDay").label}
              </Table.ColumnHeader>
              <Table.ColumnHeader>How</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {found.shown.map((d) => (
              <Table.Row key={d.date} bg="transparent">
                <Table.Cell px="0">{d.date}</Table.Cell>
                <Table.Cell textAlign="end" whiteSpace="nowrap">
                  {temperature(d.t_min_c, units)} to {temperature(d.t_max_c, units)}
                </Table.Cell>
                <Table.Cell textAlign="end">{figure(d.rain_mm, units, "water")}</Table.Cell>
                <Table.Cell textAlign="end">{figure(d.et0_mm, units, "waterDay")}</Table.Cell>
                <Table.Cell color="inkSoft">{d.et_method || "no ET can be found"}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </Box>
  );
}
