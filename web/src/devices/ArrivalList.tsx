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

/** What people brought in, and the way to take it back whole. */
export function ArrivalList() {
  const { farm, may } = useSignedIn();
  const batches = useBatches(farm.slug);
  const undo = useUndoBatch(farm.slug);
  const time = useFarmTime();
  const [asked, setAsked] = useState<Batch | null>(null);
  if (batches.isPending || !time) return <Loading what="Looking through the arrivals" />;
  if (batches.error) return <Notice error={batches.error} retry={() => void batches.refetch()} />;
  return (
    <Box maxW="1240px">
      <BehindInstruments title="Arrivals">
        Files, rounds and readings by hand. Taking one back removes what it brought and restores
        what it changed; what arrived later stays.
      </BehindInstruments>
      {batches.data.length === 0 ? (
        <Text py="6">Nothing was brought in by hand yet.</Text>
      ) : (
        <Table.ScrollArea>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">What</Table.ColumnHeader>
                <Table.ColumnHeader>By</Table.ColumnHeader>
                <Table.ColumnHeader>Readings from</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">New</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">Changed</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">As before</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">Refused</Table.ColumnHeader>
                <Table.ColumnHeader />
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {batches.data.map((b) => (
                <Table.Row key={b.id} bg="transparent" color={b.undone_at ? "inkSoft" : "ink"}>
                  <Table.Cell px="0">
                    {b.file_name || { hand: "by hand", round: "a round" }[b.origin as string]}
                  </Table.Cell>
                  <Table.Cell>{b.sender}</Table.Cell>
                  <Table.Cell>
                    {b.first && b.last
                      ? `${time.full(new Date(b.first))} to ${time.full(new Date(b.last))}`
                      : "–"}
                  </Table.Cell>
                  <Table.Cell textAlign="end">{count(b.new)}</Table.Cell>
                  <Table.Cell textAlign="end">{count(b.changed)}</Table.Cell>
                  <Table.Cell textAlign="end">{count(b.unchanged)}</Table.Cell>
                  <Table.Cell textAlign="end">{count(b.refused)}</Table.Cell>
                  <Table.Cell whiteSpace="nowrap">
                    {b.file_import !== null && (
                      <Link to={`/${farm.slug}/files/${b.file_import}`}>Open the file</Link>
                    )}
                    {b.undone_at
                      ? ` taken back by ${b.undone_by}`
                      : may("record_readings") &&
                        b.file_import === null && (
                          <Button size="2xs" variant="outline" onClick={() => setAsked(b)}>
                            Take back
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
          title="Take it back?"
          close={() => setAsked(null)}
          footer={
            <Button
              size="sm"
              loading={undo.isPending}
              onClick={() => undo.mutate(asked.id, { onSuccess: () => setAsked(null) })}
            >
              Take back {count(asked.new + asked.changed)} readings
            </Button>
          }
        >
          <Text>
            {asked.new} readings that it brought go; {asked.changed} say again what they said
            before.
          </Text>
          {undo.error && <Notice error={undo.error} />}
        </Sheet>
      )}
    </Box>
  );
}
