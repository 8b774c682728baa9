import { Box, Heading, Table, Text } from "@chakra-ui/react";
import type { FarmTime } from "../time/farmTime";
import type { ValveEntry } from "./queries";
import { entryWord } from "./words";
import { t } from "./t";

/** Every command, and everything the controllers told: newest first. */
export function ValveRecord({ entries, time }: { entries: ValveEntry[]; time: FarmTime }) {
  return (
    <Box as="section" mt="8">
      <Heading as="h2" size="md">
        {t("valves.record")}
      </Heading>
      {entries.length === 0 ? (
        <Text py="2">{t("valves.nothingYet")}</Text>
      ) : (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("valves.when")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("valves.valve")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("valves.what")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("valves.who")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {entries.map((e, k) => (
                <Table.Row key={`${e.at}${k}`} bg="transparent">
                  <Table.Cell px="0" whiteSpace="nowrap">
                    {time.full(new Date(e.at))}
                  </Table.Cell>
                  <Table.Cell>{e.about}</Table.Cell>
                  <Table.Cell>{entryWord(e)}</Table.Cell>
                  <Table.Cell>{e.by}</Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
    </Box>
  );
}
