import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, measure } from "../units/format";
import { useImportFile, type Instrument, type ReadingUnit, type Report } from "./queries";
import { UnitChoice } from "./UnitChoice";

/** A logger's file: looked through first, brought in only when nothing is wrong. */
export function FileImport({ instrument, time }: { instrument: Instrument; time: FarmTime }) {
  const { farm, units } = useSignedIn();
  const [unit, setUnit] = useState<ReadingUnit>(instrument.units[1] ?? instrument.units[0] ?? "%");
  const [file, setFile] = useState<File | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  const look = useImportFile(farm.slug, instrument.id);
  const bring = useImportFile(farm.slug, instrument.id);

  function inspect(next: File | null, inUnit: ReadingUnit) {
    setFile(next);
    setUnit(inUnit);
    bring.reset();
    look.reset();
    if (next) look.mutate({ file: next, unit: inUnit, dryRun: true });
  }

  const depths = instrument.channels.map((c) => figure(c.depth_mm, units, "depth")).join(", ");
  return (
    <Box maxW="760px">
      <Text color="inkSoft" fontSize="sm" mb="3">
        A table with the time in the first column and one column per depth, its depth in the
        heading: <code>time,10 cm,20 cm</code>. Comma, semicolon or tab between columns. Times
        without an offset are the farm's ({time.zone}). {instrument.label} reads at {depths}{" "}
        {measure(units, "depth").label}.
      </Text>
      <Flex gap="3" wrap="wrap" align="end">
        <UnitChoice
          label="The file's values are in"
          instrument={instrument}
          unit={unit}
          choose={(u) => inspect(file, u)}
        />
        <Box>
          <Button size="sm" variant="outline" onClick={() => picker.current?.click()}>
            {file ? "Choose another file" : "Choose a file"}
          </Button>
          <input
            ref={picker}
            type="file"
            hidden
            accept=".csv,.tsv,.txt,text/csv"
            onChange={(e) => {
              inspect(e.target.files?.[0] ?? null, unit);
              // So that the same file, mended, can be chosen again.
              e.target.value = "";
            }}
          />
        </Box>
      </Flex>
      <Box aria-live="polite" mt="3">
        {file && <Text fontWeight="600">{file.name}</Text>}
        {look.isPending && <Text color="inkSoft">Looking through it…</Text>}
        {look.error && <Notice error={look.error} />}
        {look.data && !bring.data && (
          <Box borderLeftWidth="3px" borderColor="water" ps="3" py="1">
            <Summary report={look.data} time={time} />
            <Button
              size="sm"
              mt="2"
              disabled={look.data.new + look.data.changed === 0}
              loading={bring.isPending}
              onClick={() => file && bring.mutate({ file, unit, dryRun: false })}
            >
              Import {count(look.data.new + look.data.changed)} readings
            </Button>
          </Box>
        )}
        {bring.error && <Notice error={bring.error} />}
        {bring.data && (
          <Box borderLeftWidth="3px" borderColor="water" ps="3" py="1" role="status">
            <Text fontWeight="600">
              Imported: {count(bring.data.new)} new, {count(bring.data.changed)} changed.
            </Text>
          </Box>
        )}
      </Box>
    </Box>
  );
}

const count = (value: number) => value.toLocaleString("en-GB");

function Summary({ report, time }: { report: Report; time: FarmTime }) {
  const nothing = report.new + report.changed === 0;
  return (
    <>
      <Text>
        {count(report.rows)} rows, {count(report.readings)} readings
        {report.gaps > 0 && `, ${count(report.gaps)} empty cells`}, from{" "}
        {time.full(new Date(report.first))} to {time.full(new Date(report.last))}.
      </Text>
      <Text>
        {nothing
          ? "All of them are here already; importing would change nothing."
          : `${count(report.new)} are new, ${count(report.changed)} say something else than before (the old values are kept), ${count(report.unchanged)} are here already.`}
      </Text>
    </>
  );
}
