import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, type UnitSystem } from "../units/format";
import { NextRoundPlan } from "./NextRoundPlan";
import { useKeepRound, useLeaf, useRemoveRound, type LeafSaid, type StemRound } from "./queries";
import { RoundSheet } from "./RoundSheet";
import { t } from "./t";
import { UnsentRounds } from "./UnsentRounds";

interface Props {
  block: { id: number; name: string };
  said: LeafSaid | null;
  time: FarmTime;
}

const SHOWN = 6;

/** The rounds of leaf readings, and the next one to make. */
export function Rounds({ block, said, time }: Props) {
  const { farm, units, may } = useSignedIn();
  const leaf = useLeaf(farm.slug, block.id, said?.round_on);
  const [adding, setAdding] = useState(false);
  const [all, setAll] = useState(false);
  if (leaf.error) return <Notice error={leaf.error} retry={() => void leaf.refetch()} />;
  if (!leaf.data?.steering) return null;
  const rounds = all ? leaf.data.rounds : leaf.data.rounds.slice(0, SHOWN);
  const zoned = leaf.data.steering.zones.length > 0;
  return (
    <Box as="section" aria-labelledby="leaf-rounds" mt="6">
      <Flex justify="space-between" align="baseline" gap="3" wrap="wrap">
        <Heading as="h2" id="leaf-rounds" size="lg">
          {t("leaf.rounds")}
        </Heading>
        {may("record_readings") && (
          <Button size="sm" onClick={() => setAdding(true)}>
            {t("leaf.enterRound")}
          </Button>
        )}
      </Flex>
      {adding && (
        <RoundSheet block={block} leaf={leaf.data} time={time} close={() => setAdding(false)} />
      )}
      <UnsentRounds block={block.id} />
      {leaf.data.next_round && <NextRoundPlan plan={leaf.data.next_round} time={time} />}
      {rounds.length === 0 ? (
        <Text color="inkSoft" mt="2">
          {t("leaf.noRounds")}
        </Text>
      ) : (
        <Table.ScrollArea tabIndex={0} mt="2">
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("leaf.day")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">
                  {t("leaf.mean", { unit: measure(units, "stem").label })}
                </Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("leaf.spread")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("leaf.leaves")}</Table.ColumnHeader>
                {zoned && <Table.ColumnHeader>{t("leaf.byZone")}</Table.ColumnHeader>}
                <Table.ColumnHeader>{t("leaf.checks")}</Table.ColumnHeader>
                <Table.ColumnHeader />
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {rounds.map((round) => (
                <Row
                  key={round.id}
                  block={block.id}
                  round={round}
                  time={time}
                  units={units}
                  zoned={zoned}
                />
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      {leaf.data.rounds.length > SHOWN && (
        <Button size="xs" variant="ghost" mt="1" onClick={() => setAll(!all)}>
          {all ? t("leaf.showFewer") : t("leaf.showAll", { count: leaf.data.rounds.length })}
        </Button>
      )}
    </Box>
  );
}

function checkWords(round: StemRound): string {
  const odd = round.leaves.filter((x) => x.outlier).length;
  const words = round.doubts.map((d) => t(`doubt.${d}`));
  if (odd > 0) words.push(t("leaf.oddPlants", { count: odd }));
  if (!round.believed) words.push(t("leaf.doesNotCount"));
  else if (round.kept) words.push(t("leaf.keptByHand"));
  return words.length === 0 ? t("leaf.nothingFound") : words.join("; ");
}

interface RowProps {
  block: number;
  round: StemRound;
  time: FarmTime;
  units: UnitSystem;
  zoned: boolean;
}

function Row({ block, round, time, units, zoned }: RowProps) {
  const { farm, may } = useSignedIn();
  const keep = useKeepRound(farm.slug, block);
  const remove = useRemoveRound(farm.slug, block);
  const [asking, setAsking] = useState(false);
  const at = new Date(round.started_at);
  const day = `${time.day(at)} ${time.clock(at)}`;
  return (
    <Table.Row bg="transparent" color={round.believed ? undefined : "inkSoft"}>
      <Table.Cell px="0" whiteSpace="nowrap">
        {day}
        {round.made_by && (
          <Text color="inkSoft" fontSize="xs">
            {round.made_by}
          </Text>
        )}
      </Table.Cell>
      <Table.Cell textAlign="end" whiteSpace="nowrap">
        {figure(round.mpa, units, "stem")}
        {round.baseline_mpa !== null && (
          <Text color="inkSoft" fontSize="xs">
            {t("leaf.baseline", { mpa: figure(round.baseline_mpa, units, "stem") })}
          </Text>
        )}
      </Table.Cell>
      <Table.Cell textAlign="end" whiteSpace="nowrap">
        {figure(round.sd_mpa, units, "stem")}
      </Table.Cell>
      <Table.Cell textAlign="end">{round.leaves.length}</Table.Cell>
      {zoned && (
        <Table.Cell whiteSpace="nowrap">
          {round.zones.map((z) => (
            <Text key={z.zone} fontSize="xs">
              {z.zone || t("leaf.noZone")} {figure(z.mpa, units, "stem")}
            </Text>
          ))}
        </Table.Cell>
      )}
      <Table.Cell fontSize="xs" whiteSpace="normal" minW="24ch">
        {checkWords(round)}
        {round.note && ` (${round.note})`}
        {(keep.error ?? remove.error) && <Notice error={keep.error ?? remove.error} />}
      </Table.Cell>
      <Table.Cell textAlign="end" whiteSpace="nowrap">
        {may("record_readings") && (round.kept || !round.believed) && (
          <Button
            size="xs"
            variant="ghost"
            loading={keep.isPending}
            aria-label={
              round.kept ? t("leaf.leaveToChecksOf", { day }) : t("leaf.countRoundOf", { day })
            }
            onClick={() => keep.mutate({ round: round.id, kept: !round.kept })}
          >
            {round.kept ? t("leaf.leaveToChecks") : t("leaf.countRound")}
          </Button>
        )}
        {may("record_readings") && (
          <Button
            size="xs"
            variant="ghost"
            color="rust"
            loading={remove.isPending}
            aria-label={asking ? t("leaf.confirmRemoveOf", { day }) : t("leaf.removeOf", { day })}
            onClick={() => (asking ? remove.mutate(round.id) : setAsking(true))}
          >
            {asking ? t("leaf.confirmRemove") : t("leaf.remove")}
          </Button>
        )}
      </Table.Cell>
    </Table.Row>
  );
}
