import { Box, Grid, Heading, Text } from "@chakra-ui/react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { t } from "./t";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { Attention } from "./Attention";
import { Delivery } from "./Delivery";
import { DueList } from "./DueList";
import { NextDays } from "./NextDays";
import { useMorning, type Summary } from "./queries";
import { Since } from "./Since";
import { Totals } from "./Totals";
import { WeatherDays } from "./WeatherDays";

/** What to irrigate today, what is next, what changed, what needs attention, the weather. */
export function SummaryPage() {
  const { farm } = useSignedIn();
  const morning = useMorning(farm.slug);
  if (morning.isPending) return <Loading what={t("summary.loadingTheSummary")} />;
  if (morning.error) return <Notice error={morning.error} retry={() => void morning.refetch()} />;
  const summary = morning.data.summary;
  const time = new FarmTime(summary.now, summary.time_zone);
  return (
    <Grid
      templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 300px" }}
      columnGap="10"
      rowGap="6"
      alignItems="start"
    >
      <Box>
        <Text color="inkSoft">{t("summary.asOf", { when: time.full(time.now) })}</Text>
        <Text fontFamily="heading" fontSize="xl" fontWeight="650" mb="2">
          {headline(summary)}
        </Text>
        {summary.today.length > 0 && (
          <Part title={t("summary.irrigateToday")}>
            <DueList lines={summary.today} time={time} />
            <Totals summary={summary} />
          </Part>
        )}
        {summary.next.length > 0 && (
          <Part title={t("summary.nextThreeDays")}>
            <NextDays lines={summary.next} time={time} />
          </Part>
        )}
        <Part title={t("summary.sinceYesterday")}>
          <Since summary={summary} time={time} />
        </Part>
        <Part title={t("summary.needsAttention")}>
          <Attention summary={summary} time={time} />
        </Part>
        <Part title={t("summary.weather")}>
          <WeatherDays days={summary.weather} time={time} />
        </Part>
      </Box>
      <Delivery morning={morning.data} />
    </Grid>
  );
}

function headline(summary: Summary): string {
  const count = summary.today.length;
  if (count === 0) return t("summary.noIrrigationIsDueToday");
  return summary.below_refill === 0
    ? t("summary.toIrrigateToday", { count })
    : t("summary.toIrrigateTodayBelowRefill", { count, late: summary.below_refill });
}

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box as="section" mt="6" aria-label={title}>
      <Heading as="h2" size="lg" borderBottomWidth="2px" borderColor="ink" pb="1" mb="2">
        {title}
      </Heading>
      {children}
    </Box>
  );
}
