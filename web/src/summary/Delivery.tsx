import { Box, Button, Code, Flex, Heading, Text } from "@chakra-ui/react";
import { Notice } from "../app/Notice";
import { Tick } from "../form/Tick";
import { t } from "./t";
import { useSignedIn } from "../session/context";
import { useEndCalendar, useMorningMail, useNewCalendar, type Morning } from "./queries";

/** The ways the summary can come to a person: printed, as a table, by mail, in a calendar. */
export function Delivery({ morning }: { morning: Morning }) {
  const { farm, person } = useSignedIn();
  const mail = useMorningMail(farm.slug);
  const here = `/api/farms/${farm.slug}`;
  return (
    <Flex direction="column" gap="6">
      <Box as="section">
        <Heading as="h2" size="md" mb="2">
          {t("summary.printOrDownload")}
        </Heading>
        <Flex gap="2" wrap="wrap">
          <Button asChild size="sm" variant="outline">
            <a href={`${here}/today.pdf`} target="_blank" rel="noreferrer">
              {t("summary.pdfToPrint")}
            </a>
          </Button>
          <Button asChild size="sm" variant="outline">
            <a href={`${here}/today.csv`} download>
              {t("summary.tableAsCsv")}
            </a>
          </Button>
        </Flex>
      </Box>
      <Box as="section">
        <Heading as="h2" size="md" mb="2">
          {t("summary.byEMail")}
        </Heading>
        <Tick
          label={t("summary.eachMorningTo", { email: person.email })}
          on={morning.morning_mail}
          change={(on) => mail.mutate(on)}
        />
        <Text fontSize="sm" color="inkSoft" mt="1">
          {t("summary.sentOnceADayAfterFiveIn")}
        </Text>
        {mail.error && <Notice error={mail.error} />}
      </Box>
      <Calendar has={morning.has_calendar} />
    </Flex>
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
        {t("summary.inACalendar")}
      </Heading>
      <Text fontSize="sm" color="inkSoft" mb="2">
        {t("summary.aPrivateCalendarAddressWith")}
      </Text>
      {path && (
        <Box mb="2">
          <Code display="block" p="2" whiteSpace="pre-wrap" wordBreak="break-all">
            {window.location.origin + path}
          </Code>
          <Text fontSize="sm" mt="1">
            {t("summary.copyItNowItIsNotShown")}
          </Text>
        </Box>
      )}
      <Flex gap="2">
        <Button size="sm" variant="outline" loading={make.isPending} onClick={() => make.mutate()}>
          {has ? t("summary.createANewAddress") : t("summary.createAnAddress")}
        </Button>
        {has && (
          <Button
            size="sm"
            variant="ghost"
            loading={end.isPending}
            onClick={() => end.mutate(undefined, { onSuccess: () => make.reset() })}
          >
            {t("summary.revoke")}
          </Button>
        )}
      </Flex>
      {(make.error ?? end.error) && <Notice error={make.error ?? end.error} />}
    </Box>
  );
}
