import { Box, Button, Flex, Grid, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { FileButton } from "../form/FileButton";
import { Choice, Line } from "../form/Labelled";
import { RemoveButton } from "../form/RemoveButton";
import { Tick } from "../form/Tick";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { figure, measure, number, withUnit, type UnitSystem } from "../units/format";
import {
  useDeleteSurvey,
  useImportSurvey,
  useSurveys,
  type HorizonIn,
  type SurveyChoices,
  type SurveyRead,
} from "./queries";
import { t } from "./t";

const FIGURES: Record<SurveyRead["attributes"][number]["figure"], string> = {
  top: t("soils.figureTop"),
  bottom: t("soils.figureBottom"),
  thickness: t("soils.figureThickness"),
  texture: t("soils.figureTexture"),
  sand: t("soils.figureSand"),
  silt: t("soils.figureSilt"),
  clay: t("soils.figureClay"),
  "organic matter": t("soils.figureOrganicMatter"),
  "organic carbon": t("soils.figureOrganicCarbon"),
  gravel: t("soils.figureGravel"),
  "bulk density": t("soils.figureDensity"),
  ece: t("soils.figureSalinity"),
};

const STATES: Record<SurveyRead["soils"][number]["state"], string> = {
  new: t("soils.surveyNew"),
  "in library": t("soils.surveyInLibrary"),
  "no texture": t("soils.surveyNoTexture"),
};

/** A soil survey's areas: shown as understood, put right, then made soils and zones of the map. */
export function ImportSurvey({ close }: { close: () => void }) {
  const { farm } = useSignedIn();
  const [choices, setChoices] = useState<Omit<SurveyChoices, "file" | "dryRun">>({
    projection: "",
    latitudeFirst: false,
    nameProperty: "",
    depthMm: 1000,
  });
  const [file, setFile] = useState<File | null>(null);
  const look = useImportSurvey(farm.slug);
  const bring = useImportSurvey(farm.slug);

  function inspect(next: File | null, changed: typeof choices) {
    setFile(next);
    setChoices(changed);
    bring.reset();
    if (next) look.mutate({ ...changed, file: next, dryRun: true });
  }
  const set = (part: Partial<typeof choices>) => inspect(file, { ...choices, ...part });
  const found = look.data;
  const footer = (
    <>
      <Button size="sm" variant="ghost" onClick={close}>
        {bring.data ? t("soils.close") : t("soils.cancel")}
      </Button>
      {!bring.data && (
        <Button
          size="sm"
          disabled={!found || look.isPending || Boolean(look.error)}
          loading={bring.isPending}
          onClick={() => file && bring.mutate({ ...choices, file, dryRun: false })}
        >
          {found ? t("soils.importZones", { count: found.soils.length }) : t("soils.importSurvey")}
        </Button>
      )}
    </>
  );
  return (
    <Sheet title={t("soils.soilSurvey")} close={close} footer={footer} size="lg">
      <Text fontSize="sm" color="inkSoft" mb="3">
        {t("soils.surveyHelp")}
      </Text>
      <FileButton
        accept=".geojson,.json,.zip,application/geo+json"
        sample="soil-survey.geojson"
        file={file}
        choose={(next) => inspect(next, { ...choices, nameProperty: "" })}
      />
      {file && (
        <Fields
          choices={choices}
          found={found}
          set={set}
          problems={problemsOf(look.error ?? bring.error)}
        />
      )}
      <Box aria-live="polite" mt="3">
        {look.isPending && <Text color="inkSoft">{t("soils.readingSurvey")}</Text>}
        {look.error && <Notice error={look.error} />}
        {bring.error && <Notice error={bring.error} />}
        {bring.data && (
          <Text fontWeight="600" role="status">
            {t("soils.importedZones", { count: bring.data.soils.length })}
          </Text>
        )}
        {found && !look.error && !bring.data && <Understood found={found} />}
      </Box>
      {!file && <Surveys />}
    </Sheet>
  );
}

interface FieldsProps {
  choices: Omit<SurveyChoices, "file" | "dryRun">;
  found: SurveyRead | undefined;
  set: (part: Partial<FieldsProps["choices"]>) => void;
  problems: Record<string, string>;
}

function Fields({ choices, found, set, problems }: FieldsProps) {
  const { units } = useSignedIn();
  return (
    <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="3" mt="3" alignItems="end">
      <Choice
        label={t("soils.soilIsNamedIn")}
        value={choices.nameProperty || (found?.name_property ?? "")}
        change={(nameProperty) => set({ nameProperty })}
        error={problems["name_property"]}
      >
        {(found?.properties ?? []).map((p) => (
          <option key={p}>{p}</option>
        ))}
      </Choice>
      <Choice
        label={t("soils.depthNotTold")}
        value={String(choices.depthMm)}
        change={(mm) => set({ depthMm: Number(mm) })}
        error={problems["depth_mm"]}
      >
        {[500, 750, 1000, 1200, 1500, 2000].map((mm) => (
          <option key={mm} value={mm}>
            {withUnit(mm, units, "depth", 0)}
          </option>
        ))}
      </Choice>
      <Line
        label={t("soils.projection")}
        placeholder={found?.projection ?? ""}
        value={choices.projection}
        change={(projection) => set({ projection })}
        error={problems["projection"]}
        help={t("soils.projectionHelp")}
      />
      <Tick
        label={t("soils.latitudeFirst")}
        on={choices.latitudeFirst}
        change={(latitudeFirst) => set({ latitudeFirst })}
      />
    </Grid>
  );
}

/** What was made out: attributes, soils with their horizons, and what could not be described. */
function Understood({ found }: { found: SurveyRead }) {
  const { units } = useSignedIn();
  const told = found.attributes.map((a) =>
    a.horizon > 0
      ? t("soils.attributeOfHorizon", {
          name: a.name,
          figure: FIGURES[a.figure],
          horizon: a.horizon,
        })
      : t("soils.attributeOfSoil", { name: a.name, figure: FIGURES[a.figure] }),
  );
  return (
    <>
      {told.length > 0 && (
        <Text fontSize="sm">{t("soils.attributesRead", { list: told.join(", ") })}</Text>
      )}
      {found.ignored.length > 0 && (
        <Text fontSize="sm">{t("soils.notUsed", { ignored: found.ignored.join(", ") })}</Text>
      )}
      {found.beyond > 0 && (
        <Text fontSize="sm">{t("soils.areasBeyond", { count: found.beyond })}</Text>
      )}
      <Table.ScrollArea tabIndex={0} mt="2">
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("soils.soil")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("soils.horizons")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("soils.inBlocks", { unit: measure(units, "area").label })}
              </Table.ColumnHeader>
              <Table.ColumnHeader>{t("soils.becomes")}</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {found.soils.map((s) => (
              <Table.Row key={s.name} bg="transparent" verticalAlign="top">
                <Table.Cell px="0" fontWeight="600">
                  {s.name}
                  <Text fontSize="xs" fontWeight="400" color="inkSoft">
                    {s.blocks.join(", ") || t("soils.inNoBlock")}
                  </Text>
                </Table.Cell>
                <Table.Cell>
                  {s.horizons.map((h) => (
                    <Text key={h.top_mm} whiteSpace="nowrap">
                      {horizonWords(h, units)}
                    </Text>
                  ))}
                  {s.depth_assumed && (
                    <Text fontSize="xs" color="inkSoft">
                      {t("soils.depthAssumed")}
                    </Text>
                  )}
                </Table.Cell>
                <Table.Cell textAlign="end">{figure(s.area_m2, units, "area", 1)}</Table.Cell>
                <Table.Cell>
                  {STATES[s.state]}
                  {s.state !== "in library" && s.problem && (
                    <Text fontSize="xs" color="rust" whiteSpace="normal">
                      {s.problem}
                    </Text>
                  )}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </>
  );
}

function horizonWords(h: HorizonIn, units: UnitSystem): string {
  const depth = `${figure(h.top_mm, units, "depth")}–${withUnit(h.bottom_mm, units, "depth", 0)}`;
  const { sand, silt, clay } = h;
  return h.texture
    ? `${depth} ${t(`texture.${h.texture}`)}`
    : `${depth} ${number(sand ?? null, 0)} / ${number(silt ?? null, 0)} / ${number(clay ?? null, 0)} %`;
}

/** The surveys that were imported, each to be taken back. */
function Surveys() {
  const { farm } = useSignedIn();
  const surveys = useSurveys(farm.slug);
  const remove = useDeleteSurvey(farm.slug);
  if (!surveys.data?.length) return null;
  return (
    <Box mt="5">
      <Text fontWeight="600">{t("soils.surveysImported")}</Text>
      {surveys.data.map((s) => (
        <Flex key={s.id} justify="space-between" align="center" gap="3" fontSize="sm">
          <Text>
            {s.file_name}, {shownDay(s.made_at.slice(0, 10))}
            <Text as="span" color="inkSoft">
              {" "}
              {t("soils.zonesAndSoils", { zones: s.zones, soils: s.soils })}
            </Text>
          </Text>
          <RemoveButton
            words={t("soils.undoImport")}
            pending={remove.isPending}
            press={() => remove.mutate(s.id)}
          />
        </Flex>
      ))}
      <Text fontSize="xs" color="inkSoft">
        {t("soils.undoSurveyHelp")}
      </Text>
      {remove.error && <Notice error={remove.error} />}
    </Box>
  );
}
