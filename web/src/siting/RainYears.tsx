import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { FileButton } from "../form/FileButton";
import { Line } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { figure, measure, typed } from "../units/format";
import { useImportRain, usePutRain, useRainYears, type RainYear } from "./queries";
import { t } from "./t";

/** Rain of each year, by which harvests are told to be of dry or wet years. */
export function RainYears() {
  const { farm, units, may } = useSignedIn();
  const years = useRainYears(farm.slug);
  const [open, setOpen] = useState(false);
  if (!years.data || (years.data.length === 0 && !may("set_up_ground"))) return null;
  return (
    <Box mt="6">
      <Heading as="h2" size="md">
        {t("siting.rainYears")}
      </Heading>
      <Text fontSize="sm" color="inkSoft" maxW="75ch">
        {t("siting.rainYearsHelp")}
      </Text>
      {years.data.length > 0 && (
        <Table.Root size="sm" bg="transparent" maxW="520px">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("siting.year")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("siting.entered", { unit: measure(units, "water").label })}
              </Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("siting.ofWeather", { unit: measure(units, "water").label })}
              </Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {years.data.map((y) => (
              <Table.Row key={y.year} bg="transparent">
                <Table.Cell px="0">{y.year}</Table.Cell>
                <Table.Cell textAlign="end">
                  {y.rain_mm === null ? "–" : figure(y.rain_mm, units, "water")}
                </Table.Cell>
                <Table.Cell textAlign="end">
                  {y.weather_mm === null ? "–" : figure(y.weather_mm, units, "water")}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      )}
      {may("set_up_ground") && (
        <Button size="sm" variant="outline" mt="2" onClick={() => setOpen(true)}>
          {t("siting.changeRain")}
        </Button>
      )}
      {open && <RainSheet years={years.data} close={() => setOpen(false)} />}
    </Box>
  );
}

function RainSheet({ years, close }: { years: RainYear[]; close: () => void }) {
  const { farm, units } = useSignedIn();
  const [file, setFile] = useState<File | null>(null);
  const look = useImportRain(farm.slug);
  const put = usePutRain(farm.slug);
  const [rows, setRows] = useState(
    years.map((y) => ({
      year: String(y.year),
      rain: y.rain_mm === null ? "" : figure(y.rain_mm, units, "water"),
    })),
  );
  const told = rows.flatMap((r) => {
    const mm = typed(r.rain, units, "water");
    return r.year.trim() === "" || mm === null ? [] : [{ year: Number(r.year), rain_mm: mm }];
  });
  const set = (place: number, part: Partial<(typeof rows)[number]>) =>
    setRows(rows.map((r, i) => (i === place ? { ...r, ...part } : r)));
  return (
    <Sheet
      title={t("siting.rainYears")}
      close={close}
      size="sm"
      footer={
        <>
          <Button size="sm" variant="ghost" onClick={close}>
            {t("siting.cancel")}
          </Button>
          <Button
            size="sm"
            loading={put.isPending}
            onClick={() => put.mutate(told, { onSuccess: close })}
          >
            {t("siting.save")}
          </Button>
        </>
      }
    >
      <Text fontSize="sm" color="inkSoft" mb="2">
        {t("siting.rainFileHelp")}
      </Text>
      <FileButton
        accept=".csv,.tsv,.txt,text/csv"
        file={file}
        choose={(next) => {
          setFile(next);
          look.mutate(next, {
            onSuccess: (found) =>
              setRows([
                ...rows.filter((r) => !found.years.some((y) => String(y.year) === r.year)),
                ...found.years.map((y) => ({
                  year: String(y.year),
                  rain: figure(y.rain_mm, units, "water"),
                })),
              ]),
          });
        }}
      />
      {look.error && <Notice error={look.error} />}
      <Box mt="3">
        {rows.map((r, i) => (
          // oxlint-disable-next-line react/no-array-index-key
          <Flex key={i} gap="3" mb="2">
            <Line
              label={t("siting.year")}
              value={r.year}
              change={(year) => set(i, { year })}
              numeric
            />
            <Line
              label={t("siting.rain")}
              value={r.rain}
              change={(rain) => set(i, { rain })}
              unit={measure(units, "water").label}
              numeric
            />
          </Flex>
        ))}
        <Button
          size="xs"
          variant="outline"
          onClick={() => setRows([...rows, { year: "", rain: "" }])}
        >
          {t("siting.addYear")}
        </Button>
      </Box>
      {put.error && <Notice error={put.error} />}
    </Sheet>
  );
}
