import { Box, Button, Grid, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { FileButton } from "../form/FileButton";
import { Choice, Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import { number, withUnit } from "../units/format";
import { useImportMap, type FarmMap, type ImportChoices } from "./queries";
import { t } from "./t";

/** Outlines from a file: shown as understood, put right, then saved all or none. */
export function ImportMap({ map, close }: { map: FarmMap; close: () => void }) {
  const { farm, units } = useSignedIn();
  const [choices, setChoices] = useState<Omit<ImportChoices, "file" | "dryRun">>({
    projection: "",
    latitudeFirst: false,
    nameProperty: "",
    likeBlock: "",
    takeArea: false,
  });
  const [file, setFile] = useState<File | null>(null);
  const look = useImportMap(farm.slug);
  const bring = useImportMap(farm.slug);

  function inspect(next: File | null, changed: typeof choices) {
    setFile(next);
    setChoices(changed);
    bring.reset();
    if (next) look.mutate({ ...changed, file: next, dryRun: true });
  }
  const set = (part: Partial<typeof choices>) => inspect(file, { ...choices, ...part });
  const found = look.data;
  const used = found?.lines.filter((l) => l.action !== "left out") ?? [];

  const footer = (
    <>
      <Button size="sm" variant="ghost" onClick={close}>
        {bring.data ? t("map.close") : t("map.cancel")}
      </Button>
      {!bring.data && (
        <Button
          size="sm"
          disabled={used.length === 0 || look.isPending}
          loading={bring.isPending}
          onClick={() => file && bring.mutate({ ...choices, file, dryRun: false })}
        >
          {t("map.import", { count: used.length })}
        </Button>
      )}
    </>
  );
  return (
    <Sheet title={t("map.importOutlines")} close={close} footer={footer} size="lg">
      <Text fontSize="sm" color="inkSoft" mb="3">
        {t("map.geojsonOrAZippedShapefileWithAll")}
      </Text>
      <FileButton
        accept=".geojson,.json,.zip,application/geo+json"
        sample="blocks.geojson"
        file={file}
        choose={(next) => inspect(next, choices)}
      />
      {file && (
        <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="3" mt="3">
          <Line
            label={t("map.projection")}
            placeholder={t("map.epsgNumberIfTheFileDoesNot")}
            value={choices.projection}
            change={(projection) => set({ projection })}
          />
          <Choice
            label={t("map.namesAreIn")}
            value={choices.nameProperty || (found?.name_property ?? "")}
            change={(nameProperty) => set({ nameProperty })}
          >
            {(found?.properties ?? []).map((p) => (
              <option key={p}>{p}</option>
            ))}
          </Choice>
          <Choice
            label={t("map.outlinesWithoutABlock")}
            value={choices.likeBlock}
            change={(likeBlock) => set({ likeBlock })}
            help={t("map.aNewBlockTakesThisOnesSoil")}
          >
            <option value="">{t("map.leaveOut")}</option>
            {map.blocks.map((b) => (
              <option key={b.id} value={b.id}>
                {t("map.makeBlocksLike", { name: b.name })}
              </option>
            ))}
          </Choice>
          <Box alignSelf="center">
            <Tick
              label={t("map.latitudeComesFirst")}
              on={choices.latitudeFirst}
              change={(latitudeFirst) => set({ latitudeFirst })}
            />
            <Tick
              label={t("map.useTheOutlinesAreas")}
              on={choices.takeArea}
              change={(takeArea) => set({ takeArea })}
            />
          </Box>
        </Grid>
      )}
      <Box aria-live="polite" mt="3">
        {look.isPending && <Text color="inkSoft">{t("map.readingTheFile")}</Text>}
        {look.error && <Notice error={look.error} />}
        {bring.error && <Notice error={bring.error} />}
        {bring.data && (
          <Text fontWeight="600" role="status">
            {t("map.importedOutlines", {
              count: bring.data.lines.filter((l) => l.action !== "left out").length,
            })}
          </Text>
        )}
        {found && !look.error && !bring.data && (
          <>
            <Text fontSize="sm">{t("map.projection2", { projection: found.projection })}</Text>
            <Box maxH="260px" overflowY="auto">
              <Table.Root size="sm" bg="transparent">
                <Table.Body>
                  {found.lines.map((l) => (
                    <Table.Row
                      key={l.row}
                      bg="transparent"
                      color={l.action === "left out" ? "inkSoft" : "ink"}
                    >
                      <Table.Cell px="0">{l.name}</Table.Cell>
                      <Table.Cell px="2">
                        {l.action === "outline"
                          ? t("map.toItsBlock")
                          : l.action === "new block"
                            ? t("map.becomesABlock")
                            : t("map.noBlockOfThisNameLeftOut")}
                      </Table.Cell>
                      <Table.Cell px="2" textAlign="end" whiteSpace="nowrap">
                        {withUnit(l.outline_m2, units, "area", 2)}
                      </Table.Cell>
                      <Table.Cell px="0" textAlign="end" whiteSpace="nowrap">
                        {l.stated_m2 !== null &&
                          t("map.ofTheAreaEntered", {
                            outline: l.outline_m2 >= l.stated_m2 ? "+" : "−",
                            outline2: number(Math.abs(l.outline_m2 / l.stated_m2 - 1) * 100, 1),
                          })}
                      </Table.Cell>
                    </Table.Row>
                  ))}
                </Table.Body>
              </Table.Root>
            </Box>
          </>
        )}
      </Box>
    </Sheet>
  );
}
