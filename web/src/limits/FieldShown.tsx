import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { figure, measure, number, type UnitSystem } from "../units/format";
import { useLearned, type Learned } from "./queries";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

const percent = (share: number) => number(share * 100, 0);

/** Where two methods of setting the refill point can't both be right, and what it means. */
export function methodsWords(l: Learned): string {
  if (!l.methods_differ || l.tension_share === null || l.tension_kpa === null) return "";
  const tensionFirst = l.tension_share < l.p_share;
  return (
    `${t("limits.theCropsPAndItsTensionLimit", { tension: number(l.tension_kpa, 0), tensionShare: l.tension_share < 0.01 ? t("limits.beforeAnyOfTheAvailableWaterIs") : t("limits.whenOfTheAvailableWaterIsGone", { percent: percent(l.tension_share) }), percent: percent(l.p_share) })} ` +
    (tensionFirst
      ? `${t("limits.aRefillPointByTensionIrrigatesSooner")} `
      : `${t("limits.aRefillPointByTensionIrrigatesLater")} `) +
    (l.by_crop
      ? t("limits.theEstimateBeganBetweenTheTwoAnd")
      : t("limits.theRefillPointSetForThisBlock"))
  );
}

const spreadOf = (mean: string, spread: string) => `${mean} ± ${spread}`;

interface RowProps {
  name: string;
  book: string;
  inForce: string;
  /** Evidence that can be checked by eye. */
  seen?: string;
}

function Row({ name, book, inForce, seen }: RowProps) {
  return (
    <Table.Row bg="transparent">
      <Table.Cell px="0">
        {name}
        {seen && (
          <Text as="span" display="block" fontSize="sm" color="inkSoft">
            {seen}
          </Text>
        )}
      </Table.Cell>
      <Table.Cell px="2" textAlign="end">
        {book}
      </Table.Cell>
      <Table.Cell px="0" textAlign="end" fontWeight="600" whiteSpace="nowrap">
        {inForce}
      </Table.Cell>
    </Table.Row>
  );
}

/** What a sensor drained to after wetting events, where enough of them tell it. */
function drainedWords(drained: Learned["levels"][number]["drained"], units: UnitSystem): string {
  if (drained === null) return "";
  return t("limits.drainedTo", {
    theta: figure(drained.theta, units, "theta"),
    low: figure(drained.low, units, "theta"),
    high: figure(drained.high, units, "theta"),
    events: drained.events,
  });
}

/** Book beside what the field has shown, as it is in force. */
export function FieldShownTable({ learned: l }: { learned: Learned }) {
  const { units } = useSignedIn();
  const water = measure(units, "water").label;
  const theta = measure(units, "theta").label;
  const depth = measure(units, "depth").label;
  return (
    <>
      <Table.Root size="sm" bg="transparent" mt="1">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("limits.limit")}</Table.ColumnHeader>
            <Table.ColumnHeader px="2" textAlign="end">
              {t("limits.published")}
            </Table.ColumnHeader>
            <Table.ColumnHeader px="0" textAlign="end">
              {t("limits.estimatedInForce")}
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          <Row
            name={t("limits.availableWaterTaw", { water })}
            book={figure(l.book_taw_mm, units, "water")}
            inForce={spreadOf(
              figure(l.taw_mm, units, "water"),
              figure(l.taw_sigma_mm, units, "water"),
            )}
          />
          <Row
            name={t("limits.allowableDepletionRaw", { water })}
            book={figure(l.book_raw_mm, units, "water")}
            inForce={spreadOf(
              figure(l.raw_mm, units, "water"),
              figure(l.raw_sigma_mm, units, "water"),
            )}
          />
          <Row
            name={t("limits.cropUseOfKcEt")}
            book="100"
            inForce={spreadOf(percent(l.use), percent(l.use_sigma))}
          />
          <Row
            name={t("limits.loggedWaterThatArrives")}
            book="100"
            inForce={spreadOf(percent(l.arrives), percent(l.arrives_sigma))}
          />
          {l.levels.map((s) => (
            <Row
              key={`${s.site} ${s.depth_mm}`}
              name={t("limits.readingAtFull", {
                site: s.site,
                depth: figure(s.depth_mm, units, "depth"),
                depth2: depth,
                theta,
              })}
              book={figure(s.book, units, "theta")}
              inForce={spreadOf(
                figure(s.estimated, units, "theta"),
                figure(s.sigma, units, "theta"),
              )}
              seen={drainedWords(s.drained, units)}
            />
          ))}
        </Table.Body>
      </Table.Root>
      {methodsWords(l) && (
        <Text fontSize="sm" mt="2">
          {methodsWords(l)}
        </Text>
      )}
    </>
  );
}

/** What the field has shown of a block's limits; today's, whatever day the page is on. */
export function FieldShown({ block }: { block: number }) {
  const { farm } = useSignedIn();
  const found = useLearned(farm.slug, block);
  if (found.isPending) return null;
  return (
    <Box as="section" aria-labelledby="field-shown" mb="6">
      <Heading as="h2" id="field-shown" size="lg">
        {t("limits.publishedAndEstimatedLimits")}
      </Heading>
      {found.error ? (
        <Notice error={found.error} retry={() => void found.refetch()} />
      ) : found.data.learned ? (
        <>
          <Text fontSize="sm" color="inkSoft">
            {t("limits.estimatedFromThisSeasonsReadings", { on: shownDay(found.data.learned.on) })}
          </Text>
          <FieldShownTable learned={found.data.learned} />
        </>
      ) : (
        <Text fontSize="sm">{t("limits.nothingIsEstimatedTheBlockHasNo")}</Text>
      )}
    </Box>
  );
}
