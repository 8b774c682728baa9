import { Box, Button, Code, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import { useEndCalendar, useMorning, useMorningMail, useNewCalendar } from "./queries";
import { t } from "../language/t";

/** What the morning is told: the summary, and the ways it can come to a person. */
export function MorningPage() {
  const { farm, person } = useSignedIn();
  const morning = useMorning(farm.slug);
  const mail = useMorningMail(farm.slug);
  if (morning.isPending) return <Loading what={t("morning.writingTheSummary")} />;
  if (morning.error) return <Notice error={morning.error} retry={() => void morning.refetch()} />;
  const here = `/api/farms/${farm.slug}`;
  return (
    <Grid
      templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 340px" }}
      columnGap="10"
      rowGap="6"
    >
      <Box
        as="pre"
        whiteSpace="pre-wrap"
        fontFamily="body"
        bg="sheet"
        p="4"
        borderWidth="1px"
        borderColor="rule"
        aria-label={t("morning.theSummaryAsItReadsNow")}
      >
        {morning.data.summary}
      </Box>
      <Flex direction="column" gap="6">
        <Box as="section">
          <Heading as="h2" size="md" mb="2">
            {t("morning.takeItAlong")}
          </Heading>
          <Flex gap="2" wrap="wrap">
            <Button asChild size="sm" variant="outline">
              <a href={`${here}/today.pdf`} target="_blank" rel="noreferrer">
                {t("morning.pageToPrint")}
              </a>
            </Button>
            <Button asChild size="sm" variant="outline">
              <a href={`${here}/today.csv`} download>
                {t("morning.tableAsCsv")}
              </a>
            </Button>
          </Flex>
        </Box>
        <Box as="section">
          <Heading as="h2" size="md" mb="2">
            {t("morning.byMail")}
          </Heading>
          <Tick
            label={t("morning.eachMorningTo", { email: person.email })}
            on={morning.data.morning_mail}
            change={(on) => mail.mutate(on)}
          />
          <Text fontSize="sm" color="inkSoft" mt="1">
            {t("morning.sentOnceADayAfterFiveBy")}
          </Text>
          {mail.error && <Notice error={mail.error} />}
        </Box>
        <Calendar has={morning.data.has_calendar} />
      </Flex>
    </Grid>
  );
}

function Calendar({ has }: { has: boolean }) {
  const { farm } = useSignedIn();
  const make = useNewCalendar(farm.slug);
  const end = useEndCalendar(farm.slug);
  const path = make.data?.path;
  return (
    <Box as="section">
      <Heading as="h2" size="md" mb="2">
        {t("morning.inACalendar")}
      </Heading>
      <Text fontSize="sm" color="inkSoft" mb="2">
        {t("morning.anAddressOfYourOwnWithThe")}
      </Text>
      {path && (
        <Box mb="2">
          <Code display="block" p="2" whiteSpace="pre-wrap" wordBreak="break-all">
            {window.location.origin + path}
          </Code>
          <Text fontSize="sm" mt="1">
            {t("morning.copyItNowItIsNotShown")}
          </Text>
        </Box>
      )}
      <Flex gap="2">
        <Button size="sm" variant="outline" loading={make.isPending} onClick={() => make.mutate()}>
          {has ? t("morning.makeANewAddress") : t("morning.makeAnAddress")}
        </Button>
        {has && (
          <Button
            size="sm"
            variant="ghost"
            loading={end.isPending}
            onClick={() => end.mutate(undefined, { onSuccess: () => make.reset() })}
          >
            {t("morning.endIt")}
          </Button>
        )}
      </Flex>
      {(make.error ?? end.error) && <Notice error={make.error ?? end.error} />}
    </Box>
  );
}
