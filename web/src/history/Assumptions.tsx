import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { assumedRows } from "./assumedRows";
import type { PastAdvice } from "./queries";
import { t } from "./t";

/** What was assumed that morning, and where the records hold otherwise today. */
export function Assumptions({ advice }: { advice: PastAdvice }) {
  const { units } = useSignedIn();
  const rows = assumedRows(advice.inputs.assumed, advice.now_assumed, units);
  const changed = rows.filter((r) => r.changed);
  return (
    <Box as="section" mt="6" aria-labelledby="assumed">
      <Heading as="h2" id="assumed" size="lg">
        {t("history.assumptions")}
      </Heading>
      <Text fontSize="sm" color="inkSoft">
        {changed.length === 0
          ? t("history.todaysRecordsAssumeTheSameForThat")
          : t("history.whereTodaysRecordsAssumeSomething")}
      </Text>
      <Table.Root size="sm" mt="1" bg="transparent">
        <Table.Body>
          {rows.map((r) => (
            <Table.Row key={r.name} bg="transparent" borderColor="rule" verticalAlign="top">
              <Table.Cell px="0" color="inkSoft" w="40%">
                {r.name}
              </Table.Cell>
              <Table.Cell px="1">
                {r.given}
                {r.changed && (
                  <Text fontWeight="700">{t("history.today", { today: r.today })}</Text>
                )}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}
