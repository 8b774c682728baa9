import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { LinkButton } from "../app/LinkButton";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { FileButton } from "../form/FileButton";
import { Choice, Line } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { runningTime, typed, withUnit, measure } from "../units/format";
import { changeWord } from "../runsheet/changeWord";
import { useJobs, type Job, type Jobs, type ReportIn, type Why } from "./queries";
import { stateOf } from "./state";
import type { Unsent } from "./store";
import { useReports } from "./useReports";
import { WHY_STOPPED } from "./why";
import { t } from "./t";

/** What is to be started and stopped today and tomorrow; works without signal. */
export function JobsPage() {
  const { farm, may } = useSignedIn();
  const found = useJobs(farm.slug);
  const reports = useReports(farm.slug);
  const data = found.data;
  const time = useMemo(() => data && new FarmTime(data.now, data.time_zone), [data]);
  if (found.isPending) return <Loading what={t("jobs.loading")} />;
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (!data || !time) return null;
  const count = reports.waiting.filter((u) => u.refused === "").length;
  const refused = reports.waiting.filter((u) => u.refused !== "");
  const days = [...new Set(data.jobs.map((j) => time.weekdayAndDate(new Date(j.starts_at))))];
  return (
    <Box maxW="560px">
      <Text fontSize="sm" role="status" color={count > 0 ? "strawInk" : "inkSoft"}>
        {count === 0 ? (
          t("jobs.allSent")
        ) : (
          <>
            {t("jobs.unsent", { count })} {reports.trouble}{" "}
            <LinkButton onClick={() => void reports.send()}>{t("jobs.sendNow")}</LinkButton>
          </>
        )}
      </Text>
      {refused.map((u) => (
        <Box key={u.key} bg="bg.error" px="3" py="2" mt="2" role="alert" fontSize="sm">
          <Text fontWeight="600">{t("jobs.notTaken", { block: u.block })}</Text>
          <Text>{u.refused}</Text>
          <LinkButton onClick={() => void reports.drop(u.key)}>{t("jobs.dropReport")}</LinkButton>
        </Box>
      ))}
      {data.told && data.told.changes.length > 0 && <Told told={data.told} time={time} />}
      {data.jobs.length === 0 && <Text mt="4">{t("jobs.nothingToDo")}</Text>}
      {days.map((day) => (
        <Box as="section" key={day} mt="4" aria-label={day}>
          <Heading as="h2" size="md">
            {day}
          </Heading>
          {data.jobs
            .filter((j) => time.weekdayAndDate(new Date(j.starts_at)) === day)
            .map((job) => (
              <JobCard
                key={job.id}
                job={job}
                time={time}
                state={stateOf(job, reports.waiting)}
                report={
                  may("log_water")
                    ? (more, photo) => void reports.add(entryOf(farm.slug, job, more, photo))
                    : null
                }
              />
            ))}
        </Box>
      ))}
    </Box>
  );
}

type Told = Partial<ReportIn> & Pick<ReportIn, "kind">;

/** A report as it waits on the phone. */
function entryOf(slug: string, job: Job, told: Told, photo: Blob | null): Unsent {
  const key = crypto.randomUUID();
  return {
    key,
    slug,
    madeAt: Date.now(),
    block: job.block,
    photo,
    refused: "",
    report: { key, irrigation_id: job.id, at: new Date().toISOString(), note: "", ...told },
  };
}

/** What the newest announcement changed of these jobs. */
function Told({ told, time }: { told: NonNullable<Jobs["told"]>; time: FarmTime }) {
  const when = (at: string | null) => (at ? time.full(new Date(at)) : "");
  return (
    <Box as="section" mt="3" borderLeftWidth="3px" borderColor="water" ps="3" fontSize="sm">
      <Text fontWeight="600">
        {t("jobs.announced", { number: told.number, when: time.full(new Date(told.made_at)) })}
      </Text>
      {told.changes.slice(0, MOST_TOLD).map((c) => (
        <Text key={`${c.block_id}${c.from_at}${c.to_at}`}>
          {t("jobs.changed", {
            block: c.block,
            change: changeWord(c.change),
            when: [when(c.from_at), when(c.to_at)].filter(Boolean).join(" → "),
          })}
        </Text>
      ))}
      {told.changes.length > MOST_TOLD && (
        <Text>{t("jobs.moreChanges", { count: told.changes.length - MOST_TOLD })}</Text>
      )}
    </Box>
  );
}

const MOST_TOLD = 4;

interface CardProps {
  job: Job;
  time: FarmTime;
  state: ReturnType<typeof stateOf>;
  report: ((told: Told, photo: Blob | null) => void) | null;
}

/** One irrigation to start or stop, with room for the meter. */
function JobCard({ job, time, state, report }: CardProps) {
  const { units } = useSignedIn();
  const [open, setOpen] = useState(false);
  const starts = new Date(job.starts_at);
  const late = state === "waiting" && time.hoursTo(starts) < -0.5;
  const over = state === "running" && job.running && time.hoursTo(job.ends_at) < -0.5;
  return (
    <Box py="3" borderBottomWidth="1px" borderColor="rule">
      <Flex justify="space-between" gap="3" align="start">
        <Box minW="0">
          <Text fontWeight="700" fontSize="lg">
            {job.block}
          </Text>
          <Text>
            {t("jobs.when", {
              from: time.clock(starts),
              to: endWords(time, starts, new Date(job.ends_at)),
              hours: runningTime(job.hours),
            })}
          </Text>
          <Text fontSize="sm" color="inkSoft">
            {[
              withUnit(job.gross_mm, units, "water"),
              withUnit(job.flow_m3_h, units, "flow", 0),
              job.supply,
              job.irrigator,
            ]
              .filter(Boolean)
              .join(" · ")}
          </Text>
          {job.note && <Text fontSize="sm">{job.note}</Text>}
          {late && (
            <Text color="rust" fontWeight="600">
              {t("jobs.shouldRun")}
            </Text>
          )}
          {over && (
            <Text color="rust" fontWeight="600">
              {t("jobs.runsOver")}
            </Text>
          )}
        </Box>
        {report && !open && state !== "stopped" && (
          <Button
            size="lg"
            flexShrink={0}
            variant={state === "running" ? "outline" : "solid"}
            onClick={() => setOpen(true)}
          >
            {state === "running" ? t("jobs.stop") : t("jobs.start")}
          </Button>
        )}
        {state === "stopped" && <Text color="inkSoft">{t("jobs.stopped")}</Text>}
      </Flex>
      {report && open && (
        <ReportForm
          stops={state === "running"}
          metered={job.meter_start_m3 !== null}
          send={(more, photo) => {
            report({ kind: state === "running" ? "stop" : "start", ...more }, photo);
            setOpen(false);
          }}
          cancel={() => setOpen(false)}
        />
      )}
    </Box>
  );
}

interface FormProps {
  stops: boolean;
  metered: boolean;
  send: (more: Partial<ReportIn>, photo: Blob | null) => void;
  cancel: () => void;
}

const KPA_PER_BAR = 100;

/** What is read on the spot as an irrigation is started or stopped. */
function ReportForm({ stops, metered, send, cancel }: FormProps) {
  const { units } = useSignedIn();
  const [meter, setMeter] = useState("");
  const [pressure, setPressure] = useState("");
  const [why, setWhy] = useState<Why>("finished");
  const [note, setNote] = useState("");
  const [photo, setPhoto] = useState<File | null>(null);
  const [wrong, setWrong] = useState<string[]>([]);
  const finish = () => {
    const read = typed(meter, units, "volume");
    const bar = Number(pressure.trim().replace(",", "."));
    const bad = [
      meter.trim() !== "" && (read === null || read < 0) && "meter",
      pressure.trim() !== "" && !(bar >= 0) && "pressure",
    ].filter((x) => x !== false);
    setWrong(bad);
    if (bad.length > 0) return;
    send(
      {
        meter_m3: read,
        pressure_kpa: pressure.trim() === "" ? null : bar * KPA_PER_BAR,
        note: note.trim(),
        why: stops ? why : null,
      },
      photo,
    );
  };
  return (
    <Grid gap="3" mt="3">
      {stops && (
        <Choice label={t("jobs.whyStopped")} value={why} change={(v) => setWhy(v as Why)}>
          {(Object.keys(WHY_STOPPED) as Why[]).map((one) => (
            <option key={one} value={one}>
              {WHY_STOPPED[one]()}
            </option>
          ))}
        </Choice>
      )}
      <Grid templateColumns="1fr 1fr" gap="3">
        <Line
          label={t("jobs.meter")}
          value={meter}
          change={setMeter}
          unit={measure(units, "volume").label}
          numeric
          help={stops && !metered ? t("jobs.meterNotReadAtStart") : undefined}
          error={wrong.includes("meter") ? t("jobs.enterANumber") : undefined}
        />
        <Line
          label={t("jobs.pressure")}
          value={pressure}
          change={setPressure}
          unit="bar"
          numeric
          error={wrong.includes("pressure") ? t("jobs.enterANumber") : undefined}
        />
      </Grid>
      <Line label={t("jobs.note")} value={note} change={setNote} />
      <FileButton accept="image/*" file={photo} choose={setPhoto} label={t("jobs.takePicture")} />
      <Flex gap="3">
        <Button size="lg" flex="1" onClick={finish}>
          {stops ? t("jobs.stopNow") : t("jobs.startNow")}
        </Button>
        <Button size="lg" variant="ghost" onClick={cancel}>
          {t("jobs.cancel")}
        </Button>
      </Flex>
    </Grid>
  );
}

/** When it ends: with its weekday where that is another day. */
function endWords(time: FarmTime, starts: Date, ends: Date): string {
  const sameDay = time.weekdayAndDate(starts) === time.weekdayAndDate(ends);
  return sameDay ? time.clock(ends) : `${time.weekday(ends)} ${time.clock(ends)}`;
}
