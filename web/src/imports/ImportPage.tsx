import { Box, Button, Flex, Heading, Progress, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useDevices } from "../devices/queries";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { useFarmTime } from "../time/useFarmTime";
import { CheckReport } from "./CheckReport";
import { FileTable } from "./FileTable";
import { KeyTable } from "./KeyTable";
import { LayoutFields } from "./LayoutFields";
import {
  isBusy,
  useAfterStep,
  useChangeLayout,
  useDiscard,
  useGuess,
  useImport,
  useProgress,
  useSensors,
  useStep,
  type BenchData,
  type FileImport,
  type Layout,
  type Sensor,
} from "./queries";
import { count } from "../units/format";

/** One file on the bench: how it is read, what it would bring, bringing it in, taking it back. */
export function ImportPage() {
  const { import: id } = useParams();
  const { farm } = useSignedIn();
  const found = useImport(farm.slug, Number(id));
  const sensors = useSensors(farm.slug);
  const time = useFarmTime();
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (sensors.error) return <Notice error={sensors.error} retry={() => void sensors.refetch()} />;
  if (found.isPending || sensors.isPending || !time) return <Loading what="Opening the file" />;
  return (
    <Bench key={found.data.summary.id} bench={found.data} sensors={sensors.data} time={time} />
  );
}

function Bench({ bench, sensors, time }: { bench: BenchData; sensors: Sensor[]; time: FarmTime }) {
  const { farm, may } = useSignedIn();
  const id = bench.summary.id;
  const busy = isBusy(bench.summary.state);
  const progress = useProgress(farm.slug, id, busy);
  const after = useAfterStep(farm.slug);
  const change = useChangeLayout(farm.slug, id);
  const step = useStep(farm.slug, id);
  const discard = useDiscard(farm.slug, id);
  const navigate = useNavigate();
  const guess = useGuess(farm.slug, id);
  const [layout, setLayout] = useState<Layout>(bench.layout);
  const summary = progress.data && busy ? progress.data : bench.summary;
  const done = busy && progress.data && !isBusy(progress.data.state);

  useEffect(() => {
    if (done) void after();
    // Once, when the step at work is found done.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [done]);

  // A moment's pause, so that typing does not send every letter.
  const text = JSON.stringify(layout);
  useEffect(() => {
    if (text === JSON.stringify(bench.layout)) return;
    const timer = setTimeout(() => change.mutate(JSON.parse(text) as Layout), 350);
    return () => clearTimeout(timer);
    // oxlint-disable-next-line react/exhaustive-deps
  }, [text]);

  const { state } = bench.summary;
  const mayWork = may("record_readings");
  const open = mayWork && ["ready", "checked"].includes(state);
  // What is chosen while a guess is under way would be lost to it.
  const fixed = !open || guess.isPending;
  const over = ["stored", "undoing", "undone"].includes(state);
  const report = bench.summary.report;
  const waits = change.isPending || text !== JSON.stringify(bench.layout);
  return (
    <Box maxW="1280px" mx="auto">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/ground/files`}>← Files</Link>
      </Text>
      <Flex align="baseline" gap="4" wrap="wrap" mb="2">
        <Heading as="h1" size="2xl" fontWeight="700">
          {bench.summary.file_name}
        </Heading>
        <Text color="inkSoft">
          {bench.saved_layout
            ? `read as “${bench.saved_layout.name}”`
            : "how it is read was guessed: look whether it is right"}
        </Text>
      </Flex>
      {bench.summary.problem && (
        <Box
          role="alert"
          bg="bg.error"
          borderLeftWidth="3px"
          borderColor="rust"
          px="3"
          py="2"
          mb="3"
        >
          {bench.summary.problem}
        </Box>
      )}
      {!over && (
        <>
          {open && (
            <Whose
              sensors={sensors}
              chosen={bench.instrument}
              pending={guess.isPending}
              choose={(instrument) =>
                guess.mutate(instrument, { onSuccess: (told) => setLayout(told.layout) })
              }
            />
          )}
          {guess.error && <Notice error={guess.error} />}
          <LayoutFields
            key={bench.instrument}
            layout={layout}
            sheets={bench.sheets}
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
            The first {bench.preview.sampled} rows hold {count(bench.preview.readings)} readings
            {bench.preview.gaps > 0 && `, ${count(bench.preview.gaps)} empty cells`}
            {bench.preview.refused_count > 0 &&
              ` and ${count(bench.preview.refused_count)} that can't be`}
            . Below each cell stands what it is taken to say, times by the farm&apos;s clock.
            {layout.columns.length + layout.keys.length === 0 &&
              " No column is given to a sensor yet: say whose file it is, or choose above a column."}
          </Text>
          <FileTable
            layout={layout}
            preview={bench.preview}
            sensors={sensors}
            time={time}
            change={setLayout}
            fixed={fixed}
          />
          {layout.shape === "long" && (
            <KeyTable
              layout={layout}
              preview={bench.preview}
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
            {
              { checked: "What it would bring", stored: "What it brought", undone: "Taken back" }[
                state as string
              ]
            }
          </Heading>
          <CheckReport bench={bench} report={report} sensors={sensors} time={time} />
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
              Check the whole file
            </Button>
          )}
          {state === "checked" && report && (
            <BringIn
              bench={bench}
              waits={waits}
              step={step}
              bringing={report.new + report.changed}
            />
          )}
          {bench.summary.batch !== null && !busy && state !== "undone" && (
            <Button
              size="sm"
              variant="outline"
              loading={step.isPending}
              onClick={() => step.mutate({ step: "undo" })}
            >
              Take back all it brought
            </Button>
          )}
          {bench.summary.batch === null && !busy && (
            <Button
              size="sm"
              variant="plain"
              loading={discard.isPending}
              onClick={() =>
                discard.mutate(undefined, {
                  onSuccess: () => void navigate(`/${farm.slug}/ground/files`),
                })
              }
            >
              Drop the file
            </Button>
          )}
        </Flex>
      )}
      {discard.error && <Notice error={discard.error} />}
    </Box>
  );
}

interface WhoseProps {
  sensors: Sensor[];
  chosen: number | null;
  pending: boolean;
  choose: (instrument: number) => void;
}

/** Whose file it is: its columns are then matched to that instrument's depths. */
function Whose({ sensors, chosen, pending, choose }: WhoseProps) {
  const instruments = new Map(
    sensors.map((s) => [s.instrument_id, `${s.block}, ${s.instrument}`] as const),
  );
  return (
    <Box w="320px" mb="3">
      <Choice
        label="The file is of"
        value={String(chosen ?? "")}
        disabled={pending}
        change={(v) => v && choose(Number(v))}
      >
        <option value="">several instruments, or not said</option>
        {[...instruments].map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </Choice>
    </Box>
  );
}

function AtWork({ summary }: { summary: FileImport }) {
  const waiting = summary.done === 0;
  const word = {
    checking: `Reading the file: ${count(summary.done)} rows`,
    storing: `Bringing in: ${count(summary.done)} of ${count(summary.total)} readings`,
    undoing: "Taking back",
  }[summary.state as string];
  return (
    <Box mt="5" maxW="560px" role="status" aria-live="polite">
      <Text mb="1">{waiting && summary.state !== "undoing" ? "Waiting for its turn…" : word}</Text>
      <Progress.Root
        value={summary.total > 0 ? (100 * summary.done) / summary.total : null}
        aria-label={word ?? "At work"}
      >
        <Progress.Track>
          <Progress.Range bg="water" />
        </Progress.Track>
      </Progress.Root>
      <Text mt="1" fontSize="sm" color="inkSoft">
        You may leave this page; the work goes on.
      </Text>
    </Box>
  );
}

interface BringInProps {
  bench: BenchData;
  bringing: number;
  waits: boolean;
  step: ReturnType<typeof useStep>;
}

function BringIn({ bench, bringing, waits, step }: BringInProps) {
  const { farm } = useSignedIn();
  const devices = useDevices(farm.slug);
  const [name, setName] = useState(bench.saved_layout?.name ?? "");
  const [device, setDevice] = useState(String(bench.saved_layout?.device ?? ""));
  if (bringing === 0)
    return <Text>All of its readings are here already: there is nothing to bring in.</Text>;
  return (
    <>
      <Box w="240px">
        <Line
          label="Keep this way of reading as"
          placeholder="not kept"
          value={name}
          change={setName}
        />
      </Box>
      {name !== "" && (devices.data ?? []).length > 0 && (
        <Box w="200px">
          <Choice label="for the logger" value={device} change={setDevice}>
            <option value="">none in particular</option>
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
        Bring in {count(bringing)} readings
      </Button>
    </>
  );
}
