import { Box, Button, Flex, Grid, Heading, Input, Table, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { CautionNote } from "../app/CautionNote";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { FileButton } from "../form/FileButton";
import { DateLine } from "../form/DateLine";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { Tick } from "../form/Tick";
import { useSettled } from "../form/useSettled";
import { useInstrument, type Detail } from "../instruments/queries";
import { depthLabel, quantityName, unitName } from "../instruments/words";
import { useSignedIn } from "../session/context";
import { CurvePlot } from "./CurvePlot";
import {
  useApplyCurve,
  useReadSheet,
  useWorksheet,
  type CurveKind,
  type Fit,
  type WorksheetIn,
} from "./queries";
import { COLUMNS, EMPTY, nextRow, sheetCsv, typedRow, wholeRows, type Row } from "./rows";
import { t } from "./t";

const HEADS: Record<(typeof COLUMNS)[number], string> = {
  raw: t("calibration.readingColumn"),
  wet_g: t("calibration.wetG"),
  dry_g: t("calibration.dryG"),
  tare_g: t("calibration.tareG"),
  volume_ml: t("calibration.volumeMl"),
};

/** From masses to a curve: the bench's worksheet. */
export function CalibrationPage() {
  const { instrument: id } = useParams();
  const { farm } = useSignedIn();
  const found = useInstrument(farm.slug, Number(id));
  if (found.isPending) return <Loading what={t("calibration.loadingTheCalibration")} />;
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  return <Worksheet detail={found.data} />;
}

function Worksheet({ detail }: { detail: Detail }) {
  const { farm, units } = useSignedIn();
  const [rows, setRows] = useState<Row[]>([EMPTY, EMPTY, EMPTY, EMPTY]);
  const takers = detail.channels.filter((c) =>
    ["theta", "counts", "permittivity"].includes(c.quantity),
  );
  const [channels, setChannels] = useState(takers.map((c) => c.id));
  const [maker, setMaker] = useState("");
  const [organic, setOrganic] = useState("");
  const [dried, setDried] = useState("105");
  const [chosen, setChosen] = useState<CurveKind | null>(null);
  const read = useReadSheet(farm.slug, detail.health.id);
  const whole = wholeRows(rows);
  const body: WorksheetIn | null =
    whole.length > 0 && channels.length > 0
      ? {
          samples: whole.map((w) => w.sample),
          channels,
          maker: maker
            .split(/[;\s]+/)
            .filter(Boolean)
            .map(Number)
            .filter(Number.isFinite),
          organic_percent: organic === "" ? null : Number(organic.replace(",", ".")),
          dried_c: dried === "" ? null : Number(dried.replace(",", ".")),
        }
      : null;
  const settled = useSettled(body, 350);
  const sheet = useWorksheet(farm.slug, detail.health.id, settled);
  const problems = problemsOf(sheet.error);
  const fit =
    sheet.data?.fits.find((f) => f.kind === (chosen ?? sheet.data.best)) ?? sheet.data?.fits[0];
  const points = useMemo(
    () =>
      (settled?.samples ?? []).map((s, i) => ({
        raw: s.raw,
        theta: sheet.data?.weighed[i]?.theta ?? 0,
      })),
    [settled, sheet.data],
  );
  const raw = `${quantityName(detail.quantity)}${detail.quantity === "counts" ? "" : `, ${unitName(detail.units[0] ?? "")}`}`;

  const rawShort =
    detail.quantity === "counts"
      ? t("calibration.counts")
      : t("calibration.reading", { unitName: unitName(detail.units[0] ?? "") });

  function change(place: number, column: (typeof COLUMNS)[number], text: string) {
    setRows(rows.map((r, i) => (i === place ? { ...r, [column]: text } : r)));
  }

  if (takers.length === 0) {
    return (
      <Text p="6">
        {t("calibration.readsTensionDirectlyItNeedsNo", { label: detail.health.label })}{" "}
        <Link to={`/${farm.slug}/instruments/${detail.health.id}`}>{t("calibration.back")}</Link>
      </Text>
    );
  }
  return (
    <Box maxW="1280px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/instruments/${detail.health.id}`}>← {detail.health.label}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700">
        {t("calibration.calibrationWorksheet")}
      </Heading>
      <Text color="inkSoft" maxW="85ch" mb="3">
        {t("calibration.packAirDrySoilInLayersAt")}
      </Text>
      <Caution detail={detail} />
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0,1.4fr) minmax(0,1fr)" }}
        gap="8"
      >
        <Box minW="0">
          <Table.ScrollArea tabIndex={0}>
            <Table.Root size="sm" bg="transparent">
              <Table.Header>
                <Table.Row bg="transparent">
                  <Table.ColumnHeader px="1">#</Table.ColumnHeader>
                  {COLUMNS.map((c) => (
                    <Table.ColumnHeader key={c} px="1">
                      {c === "raw" ? rawShort : HEADS[c]}
                    </Table.ColumnHeader>
                  ))}
                  <Table.ColumnHeader px="1" textAlign="end">
                    {t("calibration.gCm")}
                  </Table.ColumnHeader>
                  <Table.ColumnHeader px="1" textAlign="end">
                    θ, m³/m³
                  </Table.ColumnHeader>
                </Table.Row>
              </Table.Header>
              <Table.Body>
                {rows.map((row, i) => {
                  const at = whole.findIndex((w) => w.place === i);
                  const weighed = at < 0 ? undefined : sheet.data?.weighed[at];
                  const wrong =
                    at < 0 ? undefined : COLUMNS.find((c) => problems[`samples.${at}.${c}`]);
                  return (
                    // oxlint-disable-next-line react/no-array-index-key
                    <Table.Row key={i} bg="transparent">
                      <Table.Cell px="1">{i + 1}</Table.Cell>
                      {COLUMNS.map((c) => (
                        <Table.Cell key={c} px="1">
                          <Input
                            size="sm"
                            bg="sheet"
                            w="82px"
                            inputMode="decimal"
                            aria-label={t("calibration.sample", { c: HEADS[c], i: i + 1 })}
                            aria-invalid={wrong === c}
                            borderColor={wrong === c ? "rust" : undefined}
                            value={row[c]}
                            onChange={(e) => change(i, c, e.target.value)}
                          />
                        </Table.Cell>
                      ))}
                      <Table.Cell px="1" textAlign="end">
                        {weighed?.bulk_density.toFixed(2) ?? "–"}
                      </Table.Cell>
                      <Table.Cell px="1" textAlign="end" fontWeight="600">
                        {weighed?.theta.toFixed(3) ?? "–"}
                      </Table.Cell>
                    </Table.Row>
                  );
                })}
              </Table.Body>
            </Table.Root>
          </Table.ScrollArea>
          <Flex gap="3" mt="2" align="center" wrap="wrap">
            <Button size="sm" variant="outline" onClick={() => setRows([...rows, nextRow(rows)])}>
              {t("calibration.addASample")}
            </Button>
            <FileButton
              accept=".csv,.txt,text/csv"
              sample="worksheet.csv"
              file={null}
              label={t("calibration.worksheetFromCsv")}
              choose={(file) =>
                read.mutate(file, { onSuccess: (told) => setRows(told.samples.map(typedRow)) })
              }
            />
            {whole.length > 0 && (
              <a
                href={`data:text/csv;charset=utf-8,${encodeURIComponent(sheetCsv(rows))}`}
                download={`worksheet-${detail.health.label}.csv`}
              >
                {t("calibration.saveTheWorksheetCsv")}
              </a>
            )}
          </Flex>
          {(read.error ?? sheet.error) && <Notice error={read.error ?? sheet.error} />}
          <Grid templateColumns={{ base: "1fr", sm: "repeat(3, 1fr)" }} gap="3" mt="4">
            <Line
              label={t("calibration.driedAt")}
              unit="°C"
              numeric
              value={dried}
              change={setDried}
            />
            <Line
              label={t("calibration.organicMatter")}
              unit="%"
              numeric
              value={organic}
              change={setOrganic}
            />
            <Line
              label={t("calibration.makersCurve")}
              value={maker}
              change={setMaker}
              help={t("calibration.coefficientsConstantFirst")}
            />
          </Grid>
          <Text fontWeight="600" mt="4">
            {t("calibration.theCurveIsFor")}
          </Text>
          <Flex gap="4" wrap="wrap">
            {takers.map((c) => (
              <Tick
                key={c.id}
                label={depthLabel(c.depth_mm, units)}
                on={channels.includes(c.id)}
                change={(on) =>
                  setChannels(on ? [...channels, c.id] : channels.filter((x) => x !== c.id))
                }
              />
            ))}
          </Flex>
        </Box>
        <Box minW="0">
          {sheet.data && fit && settled ? (
            <>
              <FitTable fits={sheet.data.fits} chosen={fit.kind} choose={setChosen} />
              <CurvePlot points={points} fit={fit} rawLabel={raw} />
              {[...fit.grave, ...fit.warnings].map((w) => (
                <Text key={w} color={fit.grave.includes(w) ? "rust" : "strawInk"} fontSize="sm">
                  ▸ {w}
                </Text>
              ))}
              <Apply detail={detail} body={settled} fit={fit} />
            </>
          ) : (
            <Text color="inkSoft" py="6">
              {t("calibration.enterAllFiguresOfASampleAnd")}
            </Text>
          )}
        </Box>
      </Grid>
    </Box>
  );
}

function Caution({ detail }: { detail: Detail }) {
  const oven = detail.cautions[0];
  return (
    <CautionNote>
      {t("calibration.dryAt105CFor24Hours")} {oven?.text}
    </CautionNote>
  );
}

interface FitTableProps {
  fits: Fit[];
  chosen: CurveKind;
  choose: (kind: CurveKind) => void;
}

function FitTable({ fits, chosen, choose }: FitTableProps) {
  return (
    <Table.Root size="sm" bg="transparent" mb="3">
      <Table.Header>
        <Table.Row bg="transparent">
          <Table.ColumnHeader px="0">{t("calibration.curve")}</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">{t("calibration.rmse")}</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">{t("calibration.excluded")}</Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {fits.map((f) => (
          <Table.Row key={f.kind} bg={f.kind === chosen ? "bed" : "transparent"}>
            <Table.Cell px="1">
              <Button
                size="xs"
                variant={f.kind === chosen ? "solid" : "outline"}
                aria-pressed={f.kind === chosen}
                onClick={() => choose(f.kind)}
              >
                {t(`curve.${f.kind}`)}
              </Button>
            </Table.Cell>
            <Table.Cell textAlign="end">{f.rmse.toFixed(4)}</Table.Cell>
            <Table.Cell textAlign="end">{f.left_out?.toFixed(4) ?? "–"}</Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}

function Apply({ detail, body, fit }: { detail: Detail; body: WorksheetIn; fit: Fit }) {
  const { farm, may } = useSignedIn();
  const navigate = useNavigate();
  const apply = useApplyCurve(farm.slug, detail.health.id);
  const [from, setFrom] = useState("beginning");
  const [day, setDay] = useState("");
  const [reason, setReason] = useState("");
  const [insist, setInsist] = useState(false);
  const problems = problemsOf(apply.error);
  if (!may("set_up_ground")) return null;
  return (
    <Box as="section" aria-label={t("calibration.apply")} mt="4" display="grid" gap="3">
      <Text fontSize="sm">
        θ ={" "}
        {fit.coefficients
          .map((c, i) => `${Number(c.toPrecision(5))}${["", " x", " x²", " x³"][i]}`)
          .join(" + ")}
      </Text>
      <Choice label={t("calibration.inForceFrom")} value={from} change={setFrom}>
        <option value="beginning">{t("calibration.theBeginning")}</option>
        <option value="day">{t("calibration.aDate")}</option>
      </Choice>
      {from === "day" && <DateLine label={t("calibration.day")} value={day} change={setDay} />}
      <Line
        label={t("calibration.source")}
        value={reason}
        change={setReason}
        error={problems["reason"]}
        help={t("calibration.whereAndWhoWeighed")}
      />
      {fit.grave.length > 0 && (
        <Tick label={t("calibration.applyItAnyway")} on={insist} change={setInsist} />
      )}
      {apply.error && !problems["reason"] && <Notice error={apply.error} />}
      <Button
        size="sm"
        loading={apply.isPending}
        disabled={from === "day" && day === ""}
        onClick={() =>
          apply.mutate(
            {
              ...body,
              kind: fit.kind,
              from_at: from === "day" ? `${day}T00:00:00` : null,
              reason,
              insist,
            },
            { onSuccess: () => navigate(`/${farm.slug}/instruments/${detail.health.id}`) },
          )
        }
      >
        {t("calibration.applyTheCurve", { kind: t(`curve.${fit.kind}`) })}
      </Button>
    </Box>
  );
}
