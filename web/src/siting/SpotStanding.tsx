import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useState, type SyntheticEvent } from "react";
import { Link } from "react-router";
import { Notice } from "../app/Notice";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { ink } from "../theme/system";
import { shownDay } from "../time/enteredDate";
import { number, withUnit } from "../units/format";
import { useDecide, useSiting, type SpotRecord, type SpotSheet } from "./queries";
import { t } from "./t";

/** How the probe lies to the farm's others over the season, and whether it stays where it is. */
export function SpotStanding({ sheet, record }: { sheet: SpotSheet; record: SpotRecord }) {
  const { may } = useSignedIn();
  const { standing } = record;
  return (
    <Box as="section" mt="7">
      <Heading as="h2" size="md">
        {t("siting.keptOrMoved")}
      </Heading>
      {standing ? (
        <>
          <Standing standing={standing} own={sheet.spot.instrument} />
          {sheet.spot.instrument !== null &&
            !standing.probes.some((p) => p.instrument === sheet.spot.instrument) && (
              <Text fontSize="sm" mt="1">
                {t("siting.notComparedYet")}
              </Text>
            )}
        </>
      ) : (
        <Text fontSize="sm" color="inkSoft" maxW="75ch">
          {t("siting.noStanding")}
        </Text>
      )}
      {record.decisions.map((d) => (
        <Text key={d.id} mt="2" fontSize="sm">
          <b>
            {shownDay(d.made_at.slice(0, 10))}:{" "}
            {d.kept
              ? t("siting.kept")
              : d.moved_to
                ? t("siting.movedTo", { spot: d.moved_to })
                : t("siting.takenOut")}
          </b>{" "}
          {d.why}
          <Text as="span" color="inkSoft">
            {" "}
            {d.made_by}
            {d.difference !== null &&
              d.spread !== null &&
              `, ${t("siting.stoodThen", {
                difference: signed(d.difference),
                spread: number(d.spread * 100, 1),
              })}`}
          </Text>
        </Text>
      ))}
      {may("set_up_ground") && sheet.spot.instrument !== null && <Decide sheet={sheet} />}
    </Box>
  );
}

const signed = (share: number) => `${share > 0 ? "+" : ""}${number(share * 100, 1)}`;
const WIDE = 190;

function Standing({
  standing,
  own,
}: {
  standing: NonNullable<SpotRecord["standing"]>;
  own: number | null;
}) {
  const { farm, units } = useSignedIn();
  const reach = Math.max(...standing.probes.map((p) => Math.abs(p.difference) + p.spread), 0.01);
  const x = (share: number) => WIDE / 2 + (share / reach) * (WIDE / 2 - 4);
  const best = standing.probes.reduce((a, b) => (b.index < a.index ? b : a));
  return (
    <>
      <Text fontSize="sm" color="inkSoft" maxW="75ch">
        {t("siting.standingHelp", {
          depth: withUnit(standing.depth_mm, units, "depth", 0),
          days: standing.days,
        })}
      </Text>
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("siting.probe")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">{t("siting.offMean")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">{t("siting.spreadOverTime")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("siting.drierOrWetter")}</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {standing.probes.map((p) => (
              <Table.Row key={p.instrument} bg={p.instrument === own ? "bed" : "transparent"}>
                <Table.Cell px="1" fontWeight={p.instrument === own ? "700" : undefined}>
                  <Link to={`/${farm.slug}/instruments/${p.instrument}`}>{p.label}</Link>, {p.block}
                  {p === best && (
                    <Text fontSize="xs" color="inkSoft">
                      {t("siting.nearestToMean")}
                    </Text>
                  )}
                </Table.Cell>
                <Table.Cell textAlign="end">{signed(p.difference)} %</Table.Cell>
                <Table.Cell textAlign="end">{number(p.spread * 100, 1)} %</Table.Cell>
                <Table.Cell>
                  <svg width={WIDE} height="16" aria-hidden>
                    <line x1={WIDE / 2} x2={WIDE / 2} y1="0" y2="16" stroke={ink("rule")} />
                    <line
                      x1={x(p.difference - p.spread)}
                      x2={x(p.difference + p.spread)}
                      y1="8"
                      y2="8"
                      stroke={ink("inkSoft")}
                      strokeWidth="2"
                    />
                    <circle
                      cx={x(p.difference)}
                      cy="8"
                      r="4"
                      fill={ink(p.instrument === own ? "rust" : "water")}
                    />
                  </svg>
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </>
  );
}

function Decide({ sheet }: { sheet: SpotSheet }) {
  const { farm } = useSignedIn();
  const siting = useSiting(farm.slug, sheet.block_id);
  const decide = useDecide(farm.slug, sheet.spot.id);
  const [what, setWhat] = useState("keep");
  const [why, setWhy] = useState("");
  const problems = problemsOf(decide.error);
  const free = (siting.data?.chosen ?? []).filter(
    (s) => s.instrument === null && s.id !== sheet.spot.id,
  );
  function submit(event: SyntheticEvent) {
    event.preventDefault();
    decide.mutate(
      {
        kept: what === "keep",
        why,
        moved_to: what === "keep" || what === "out" ? null : Number(what),
      },
      { onSuccess: () => setWhy("") },
    );
  }
  return (
    <Box as="form" onSubmit={submit} mt="3" maxW="640px">
      <Flex gap="3" wrap="wrap" align="end">
        <Box w="260px">
          <Choice
            label={t("siting.decision")}
            value={what}
            change={setWhat}
            error={problems["moved_to"]}
          >
            <option value="keep">{t("siting.keepIt")}</option>
            {free.map((s) => (
              <option key={s.id} value={s.id}>
                {t("siting.moveTo", { spot: s.name })}
              </option>
            ))}
            <option value="out">{t("siting.takeOut")}</option>
          </Choice>
        </Box>
        <Box flex="1" minW="240px">
          <Line label={t("siting.why")} value={why} change={setWhy} error={problems["why"]} />
        </Box>
        <Button type="submit" size="sm" loading={decide.isPending} disabled={!why.trim()}>
          {t("siting.saveDecision")}
        </Button>
      </Flex>
      {decide.error && <Notice error={decide.error} />}
    </Box>
  );
}
