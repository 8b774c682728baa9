import { Box, Button, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { BehindInstruments } from "../instruments/BehindInstruments";
import { useSignedIn } from "../session/context";
import { useFarmTime } from "../time/useFarmTime";
import { count } from "../units/format";
import { useBatches, useUndoBatch, type Batch } from "./queries";
import { t } from "./t";

const ORIGINS: Record<Batch["origin"], string> = {
  file: t("devices.aFile"),
  hand: t("devices.byHand"),
  round: t("devices.aRound"),
  device: t("devices.aLogger"),
  simulated: t("devices.simulatedReadings"),
};

/** What people brought in, and the way to take it back whole. */
export function ArrivalList() {
  const { farm, may } = useSignedIn();
  const batches = useBatches(farm.slug);
  const undo = useUndoBatch(farm.slug);
  const time = useFarmTime();
  const [asked, setAsked] = useState<Batch | null>(null);
  if (batches.isPending || !time) return <Loading what={t("devices.loadingTheDataReceived")} />;
  if (batches.error) return <Notice error={batches.error} retry={() => void batches.refetch()} />;
  return (
    <Box maxW="1240px">
      <BehindInstruments title={t("devices.dataReceived")}>
        {t("devices.filesRoundsAndReadingsEnteredByHand")}
      </BehindInstruments>
      {batches.data.length === 0 ? (
        <Text py="6">{t("devices.noFileRoundOrReadingHasBeen")}</Text>
      ) : (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("devices.what")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("devices.by")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("devices.readingsFrom")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("devices.new")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("devices.changed")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("devices.unchanged")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("devices.rejected")}</Table.ColumnHeader>
                <Table.ColumnHeader />
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {batches.data.map((b) => (
                <Table.Row key={b.id} bg="transparent" color={b.undone_at ? "inkSoft" : "ink"}>
                  <Table.Cell px="0">{b.file_name || ORIGINS[b.origin]}</Table.Cell>
                  <Table.Cell>{b.sender}</Table.Cell>
                  <Table.Cell>
                    {b.first && b.last
                      ? t("devices.to", {
                          full: time.full(new Date(b.first)),
                          full2: time.full(new Date(b.last)),
                        })
                      : "–"}
                  </Table.Cell>
                  <Table.Cell textAlign="end">{count(b.new)}</Table.Cell>
                  <Table.Cell textAlign="end">{count(b.changed)}</Table.Cell>
                  <Table.Cell textAlign="end">{count(b.unchanged)}</Table.Cell>
                  <Table.Cell textAlign="end">{count(b.refused)}</Table.Cell>
                  <Table.Cell whiteSpace="nowrap">
                    {b.file_import !== null && (
                      <Link to={`/${farm.slug}/files/${b.file_import}`}>
                        {t("devices.openTheFile")}
                      </Link>
                    )}
                    {b.undone_at
                      ? ` ${t("devices.undoneBy", { undoneBy: b.undone_by })}`
                      : may("record_readings") &&
                        b.file_import === null && (
                          <Button size="2xs" variant="outline" onClick={() => setAsked(b)}>
                            {t("devices.undo")}
                          </Button>
                        )}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      {asked && (
        <Sheet
          title={t("devices.undoIt")}
          close={() => setAsked(null)}
          footer={
            <Button
              size="sm"
              loading={undo.isPending}
              onClick={() => undo.mutate(asked.id, { onSuccess: () => setAsked(null) })}
            >
              {t("devices.undoReadings", { new: count(asked.new + asked.changed) })}
            </Button>
          }
        >
          <Text>
            {t("devices.readingsThatItAddedAreRemovedAre", {
              new: asked.new,
              changed: asked.changed,
            })}
          </Text>
          {undo.error && <Notice error={undo.error} />}
        </Sheet>
      )}
    </Box>
  );
}
