import { Box, Button, Flex, Grid, Heading, Input, Text } from "@chakra-ui/react";
import { lazy, Suspense, useMemo, useState } from "react";
import { LinkButton } from "../app/LinkButton";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { DaysBack } from "../form/DaysBack";
import { useSettled } from "../form/useSettled";
import { useFieldReports } from "../jobs/queries";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { useLiftHold, useWater, type SetOut, type WaterData } from "./queries";
import { RainByGauge } from "./RainByGauge";
import { SetLine } from "./SetLine";
import { t } from "./t";

const SetSheet = lazy(() => import("./SetSheet").then((found) => ({ default: found.SetSheet })));

const STRETCHES = [14, 30, 120];
const A_PAGE = 100;

/** The sets of the farm: what is to be done, what runs, what was given. */
export function SetsPage() {
  const { farm } = useSignedIn();
  const [days, setDays] = useState(14);
  const [typed, setTyped] = useState("");
  const [given, setGiven] = useState(A_PAGE);
  const find = useSettled(typed.trim(), 250);
  const water = useWater(farm.slug, { days, find, given });
  if (water.isPending) return <Loading what={t("water.loadingTheIrrigationLog")} />;
  if (water.error) return <Notice error={water.error} retry={() => void water.refetch()} />;
  const log: Log = {
    days,
    find,
    typed,
    coming: water.isPlaceholderData,
    look: (back) => {
      setDays(back);
      setGiven(A_PAGE);
    },
    type: (name) => {
      setTyped(name);
      setGiven(A_PAGE);
    },
    more: () => setGiven(given + A_PAGE),
  };
  return <Sets water={water.data} log={log} />;
}

/** What of the log is shown, and the ways to show another part of it. */
interface Log {
  days: number;
  find: string;
  typed: string;
  coming: boolean;
  look: (days: number) => void;
  type: (name: string) => void;
  more: () => void;
}

type Asked = { set: SetOut; ends: boolean } | "new" | null;

function Sets({ water, log }: { water: WaterData; log: Log }) {
  const { farm, may } = useSignedIn();
  const [asked, setAsked] = useState<Asked>(null);
  const time = useMemo(() => new FarmTime(water.now, water.time_zone), [water]);
  const reported = useFieldReports(farm.slug, log.days);
  const reportsOf = (id: number) => (reported.data ?? []).filter((r) => r.irrigation_id === id);
  const open = water.sets
    .filter((s) => s.status === "running" || s.status === "planned")
    .toSorted((a, b) => a.started_at.localeCompare(b.started_at));
  const past = water.sets.filter((s) => s.status === "done" || s.status === "cancelled");
  const line = (s: SetOut) => (
    <SetLine
      key={s.id}
      set={s}
      time={time}
      reports={reportsOf(s.id)}
      end={() => setAsked({ set: s, ends: true })}
      correct={() => setAsked({ set: s, ends: false })}
    />
  );
  return (
    <>
      <Flex gap="3" align="center" wrap="wrap" mb="3">
        {may("log_water") && (
          <Button size="sm" onClick={() => setAsked("new")}>
            {t("water.logIrrigation")}
          </Button>
        )}
        <DaysBack choices={STRETCHES} days={log.days} change={log.look} />
        <Input
          size="sm"
          w="190px"
          bg="sheet"
          type="search"
          aria-label={t("water.findABlock")}
          placeholder={t("water.findABlock")}
          value={log.typed}
          onChange={(e) => log.type(e.target.value)}
        />
      </Flex>
      <Grid
        templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 320px" }}
        columnGap="10"
        rowGap="6"
      >
        <Box minW="0">
          <Heading as="h2" size="lg">
            {t("water.scheduledAndRunning")}
          </Heading>
          {open.length === 0 ? (
            <Text color="inkSoft" mt="1">
              {log.find
                ? t("water.nothingIsScheduledOnABlockNamed", { find: log.find })
                : t("water.nothingIsScheduledScheduleIrrigation")}
            </Text>
          ) : (
            <Box as="ul" p="0" m="0">
              {open.map(line)}
            </Box>
          )}
          <Heading as="h2" size="lg" mt="6">
            {t("water.done")}
          </Heading>
          {past.length === 0 ? (
            <Text color="inkSoft" mt="1">
              {t("water.nothingWasAppliedInDays", {
                find: log.find && ` ${t("water.onABlockNamed", { find: log.find })}`,
                days: log.days,
              })}
            </Text>
          ) : (
            <>
              <Box as="ul" p="0" m="0">
                {past.map(line)}
              </Box>
              {past.length < water.given_count && (
                <Flex gap="3" align="center" mt="3">
                  <Button size="sm" variant="outline" loading={log.coming} onClick={log.more}>
                    {t("water.showMore")}
                  </Button>
                  <Text fontSize="sm" color="inkSoft" role="status">
                    {t("water.ofShownTheNewestFirst", {
                      count: past.length,
                      givenCount: water.given_count,
                    })}
                  </Text>
                </Flex>
              )}
            </>
          )}
        </Box>
        <Box minW="0">
          <RainByGauge water={water} time={time} />
          <Holds water={water} time={time} />
        </Box>
      </Grid>
      <Suspense fallback={null}>
        {asked === "new" && <SetSheet time={time} close={() => setAsked(null)} />}
        {asked !== null && asked !== "new" && (
          <SetSheet
            key={asked.set.id}
            time={time}
            set={asked.set}
            ends={asked.ends}
            close={() => setAsked(null)}
          />
        )}
      </Suspense>
    </>
  );
}

function Holds({ water, time }: { water: WaterData; time: FarmTime }) {
  const { farm, may } = useSignedIn();
  const lift = useLiftHold(farm.slug);
  if (water.holds.length === 0) return null;
  return (
    <Box as="section" mt="6" aria-labelledby="holds">
      <Heading as="h2" id="holds" size="lg">
        {t("water.holds")}
      </Heading>
      {water.holds.map((h) => (
        <Box key={h.id} py="2" borderBottomWidth="1px" borderColor="rule">
          <Text fontWeight="600">{h.block}</Text>
          <Text fontSize="sm" color="inkSoft">
            {t("water.until2", {
              kind: t(`hold.${h.kind}`),
              endsDay: time.day(new Date(h.ends_at)),
              endsTime: time.clock(new Date(h.ends_at)),
              note: h.note && `: ${h.note}`,
            })}
          </Text>
          {may("decide") && (
            <LinkButton loading={lift.isPending} onClick={() => lift.mutate(h.id)}>
              {t("water.liftTheHold")}
            </LinkButton>
          )}
        </Box>
      ))}
      {lift.error && <Notice error={lift.error} />}
    </Box>
  );
}
