import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useDevices } from "../devices/queries";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { useFarmTime } from "../time/useFarmTime";
import { AtWork } from "./AtWork";
import { CheckReport } from "./CheckReport";
import { DropFile } from "./DropFile";
import { FileTable } from "./FileTable";
import { KeyTable } from "./KeyTable";
import { LayoutFields } from "./LayoutFields";
import {
  isBusy,
  useChangeLayout,
  useGuess,
  useImport,
  useSensors,
  useStep,
  useStepAtWork,
  type FileImport,
  type Layout,
  type ReadDetail,
  type Sensor,
} from "./queries";
import { StepProblem } from "./StepProblem";
import { Unread } from "./Unread";
import { Whose } from "./Whose";
import { count } from "../units/format";
import { t } from "./t";

const HEADINGS: Partial<Record<FileImport["state"], string>> = {
  checked: t("imports.importPreview"),
  stored: t("imports.imported2"),
  undone: t("imports.undone2"),
};

/** One file on the detail: how it is read, what it would bring, bringing it in, taking it back. */
export function ImportPage() {
  const { import: id } = useParams();
  const { farm } = useSignedIn();
  const found = useImport(farm.slug, Number(id));
  const sensors = useSensors(farm.slug);
  const time = useFarmTime();
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (sensors.error) return <Notice error={sensors.error} retry={() => void sensors.refetch()} />;
  if (found.isPending || sensors.isPending || !time)
    return <Loading what={t("imports.loadingTheFile")} />;
  const { layout, preview, summary } = found.data;
  // Anew once it is read: what was chosen before was said of other rows.
  if (summary.state === "reading" || layout === null || preview === null)
    return <Unread key={summary.id} detail={found.data} />;
  const detail = { ...found.data, layout, preview };
  return <Detail key={summary.id} detail={detail} sensors={sensors.data} time={time} />;
}

interface DetailProps {
  detail: ReadDetail;
  sensors: Sensor[];
  time: FarmTime;
}

function Detail({ detail, sensors, time }: DetailProps) {
  const { farm, may } = useSignedIn();
  const id = detail.summary.id;
  const busy = isBusy(detail.summary.state);
  const summary = useStepAtWork(farm.slug, detail.summary);
  const change = useChangeLayout(farm.slug, id);
  const step = useStep(farm.slug, id);
  const guess = useGuess(farm.slug, id);
  const [layout, setLayout] = useState<Layout>(detail.layout);

  // A moment's pause, so that typing does not send every letter.
  const text = JSON.stringify(layout);
  useEffect(() => {
    if (text === JSON.stringify(detail.layout)) return;
    const timer = setTimeout(() => change.mutate(JSON.parse(text) as Layout), 350);
    return () => clearTimeout(timer);
    // oxlint-disable-next-line react/exhaustive-deps
  }, [text]);

  const { state } = detail.summary;
  const mayWork = may("record_readings");
  const open = mayWork && ["ready", "checked"].includes(state);
  // What is chosen while a guess is under way would be lost to it.
  const fixed = !open || guess.isPending;
  const over = ["stored", "undoing", "undone"].includes(state);
  const report = detail.summary.report;
  const waits = change.isPending || text !== JSON.stringify(detail.layout);
  return (
    <Box maxW="1280px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/farm/files`}>{t("imports.files2")}</Link>
      </Text>
      <Flex align="baseline" gap="4" wrap="wrap" mb="2">
        <Heading as="h1" size="2xl" fontWeight="700">
          {detail.summary.file_name}
        </Heading>
        <Text color="inkSoft">
          {detail.saved_layout
            ? t("imports.readAs", { name: detail.saved_layout.name })
            : t("imports.theLayoutWasGuessedCheckThatIt")}
        </Text>
      </Flex>
      <StepProblem text={detail.summary.problem} />
      {!over && (
        <>
          {open && (
            <Whose
              sensors={sensors}
              chosen={detail.instrument}
              pending={guess.isPending}
              choose={(instrument) => guess.mutate(instrument)}
            />
          )}
          {guess.error && <Notice error={guess.error} />}
          <LayoutFields
            key={detail.instrument}
            layout={layout}
            sheets={detail.sheets}
            zone={time.zone}
            problems={problemsOf(change.error)}
            change={setLayout}
            fixed={fixed}
          />
          {change.error && <Notice error={change.error} />}
        </>
      )}
      {(state === "ready" || state === "checking" || state === "checked") && (
        <Box mt="4" opacity={waits ? 0.6 : 1}>
          <Text fontSize="sm" color="inkSoft" mb="1" role="status">
            {t("imports.theFirstRowsHoldReadings", {
              sampled: detail.preview.sampled,
              readings: count(detail.preview.readings),
            })}
            {detail.preview.gaps > 0 &&
              t("imports.emptyCells", { gaps: count(detail.preview.gaps) })}
            {detail.preview.refused_count > 0 &&
              ` ${t("imports.andThatAreNotPossible", { refusedCount: count(detail.preview.refused_count) })}`}
            {t("imports.belowEachCellIsTheValueIt")}
            {layout.columns.length + layout.keys.length === 0 &&
              ` ${t("imports.noColumnIsAssignedToASensor")}`}
          </Text>
          <FileTable
            layout={layout}
            preview={detail.preview}
            sensors={sensors}
            time={time}
            change={setLayout}
            fixed={fixed}
          />
          {layout.shape === "long" && (
            <KeyTable
              layout={layout}
              preview={detail.preview}
              leftOut={report?.left_out ?? {}}
              sensors={sensors}
              change={setLayout}
              fixed={fixed}
            />
          )}
        </Box>
      )}
      {busy && <AtWork summary={summary} />}
      {step.error && <Notice error={step.error} />}
      {report && !busy && (
        <Box as="section" mt="5">
          <Heading as="h2" size="lg" mb="1">
            {HEADINGS[state]}
          </Heading>
          <CheckReport detail={detail} report={report} sensors={sensors} time={time} />
        </Box>
      )}
      {mayWork && (
        <Flex gap="3" mt="5" align="end" wrap="wrap">
          {(state === "ready" || state === "failed") && (
            <Button
              size="sm"
              disabled={waits}
              loading={step.isPending}
              onClick={() => step.mutate({ step: "check" })}
            >
              {t("imports.checkTheWholeFile")}
            </Button>
          )}
          {state === "checked" && report && (
            <BringIn
              detail={detail}
              waits={waits}
              step={step}
              bringing={report.new + report.changed}
            />
          )}
          {detail.summary.batch !== null && !busy && state !== "undone" && (
            <Button
              size="sm"
              variant="outline"
              loading={step.isPending}
              onClick={() => step.mutate({ step: "undo" })}
            >
              {t("imports.undoTheImport")}
            </Button>
          )}
          {detail.summary.batch === null && !busy && <DropFile id={id} />}
        </Flex>
      )}
    </Box>
  );
}

interface BringInProps {
  detail: ReadDetail;
  bringing: number;
  waits: boolean;
  step: ReturnType<typeof useStep>;
}

function BringIn({ detail, bringing, waits, step }: BringInProps) {
  const { farm } = useSignedIn();
  const devices = useDevices(farm.slug);
  const [name, setName] = useState(detail.saved_layout?.name ?? "");
  const [device, setDevice] = useState(String(detail.saved_layout?.device ?? ""));
  if (bringing === 0) return <Text>{t("imports.allOfItsReadingsAreAlreadyStored")}</Text>;
  return (
    <>
      <Box w="240px">
        <Line
          label={t("imports.saveThisLayoutAs")}
          placeholder={t("imports.notSaved")}
          value={name}
          change={setName}
        />
      </Box>
      {name !== "" && (devices.data ?? []).length > 0 && (
        <Box w="200px">
          <Choice label={t("imports.forTheLogger")} value={device} change={setDevice}>
            <option value="">{t("imports.notAssigned")}</option>
            {(devices.data ?? []).map((d) => (
              <option key={d.id} value={d.id}>
                {d.name}
              </option>
            ))}
          </Choice>
        </Box>
      )}
      <Button
        size="sm"
        disabled={waits}
        loading={step.isPending}
        onClick={() =>
          step.mutate({
            step: "store",
            keepAs: name,
            device: device === "" ? null : Number(device),
          })
        }
      >
        {t("imports.importReadings", { bringing: count(bringing) })}
      </Button>
    </>
  );
}
