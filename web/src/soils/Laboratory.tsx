import { Box, Button, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { FileButton } from "../form/FileButton";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import { useLaboratory } from "./queries";
import { METHOD_NAMES } from "./Methods";
import { t } from "./t";

/** A laboratory's sheet: read first, shown as understood, saved when asked. */
export function Laboratory({ close }: { close: () => void }) {
  const { farm, units } = useSignedIn();
  const [file, setFile] = useState<File | null>(null);
  const look = useLaboratory(farm.slug);
  const bring = useLaboratory(farm.slug);
  const found = look.data;
  const taken = found?.soils.filter((s) => s.exists) ?? [];

  const footer = (
    <>
      <Button variant="ghost" size="sm" onClick={close}>
        {bring.data ? t("soils.close") : t("soils.cancel")}
      </Button>
      {!bring.data && (
        <Button
          size="sm"
          disabled={!found || taken.length > 0}
          loading={bring.isPending}
          onClick={() => file && bring.mutate({ file, dryRun: false })}
        >
          {t("soils.saveSoils", { found: found ? found.soils.length : "" })}
        </Button>
      )}
    </>
  );
  return (
    <Sheet title={t("soils.laboratorySheet")} close={close} footer={footer} size="lg">
      <Text fontSize="sm" color="inkSoft" mb="3">
        {t("soils.aCsvWithARowPerLayer")}
      </Text>
      <FileButton
        accept=".csv,.tsv,.txt,text/csv"
        sample="laboratory.csv"
        file={file}
        choose={(next) => {
          setFile(next);
          bring.reset();
          look.mutate({ file: next, dryRun: true });
        }}
      />
      <Box aria-live="polite" mt="3">
        {look.error && <Notice error={look.error} />}
        {bring.error && <Notice error={bring.error} />}
        {bring.data && (
          <Text fontWeight="600">
            {t("soils.savedSoilsToTheLibrary", { count: bring.data.soils.length })}
          </Text>
        )}
        {found && !bring.data && (
          <>
            {found.ignored.length > 0 && (
              <Text fontSize="sm">{t("soils.notUsed", { ignored: found.ignored.join(", ") })}</Text>
            )}
            {taken.length > 0 && (
              <Text color="fg.error" fontSize="sm">
                {t("soils.aSoilOfThatNameAlreadyExists", {
                  map: taken.map((s) => s.name).join(", "),
                })}
              </Text>
            )}
            <Table.Root size="sm" mt="2" bg="transparent">
              <Table.Body>
                {found.soils.flatMap((s) =>
                  s.horizons.map((h, i) => (
                    <Table.Row key={`${s.name}${h.top_mm}`} bg="transparent">
                      <Table.Cell px="0" fontWeight="600">
                        {i === 0 ? s.name : ""}
                      </Table.Cell>
                      <Table.Cell whiteSpace="nowrap">
                        {figure(h.top_mm, units, "depth")}–{figure(h.bottom_mm, units, "depth")}{" "}
                        {measure(units, "depth").label}
                      </Table.Cell>
                      <Table.Cell>
                        {number(h.sand, 0)} / {number(h.silt, 0)} / {number(h.clay, 0)} %
                      </Table.Cell>
                      <Table.Cell px="0">{h.method && METHOD_NAMES[h.method]}</Table.Cell>
                    </Table.Row>
                  )),
                )}
              </Table.Body>
            </Table.Root>
          </>
        )}
      </Box>
    </Sheet>
  );
}
