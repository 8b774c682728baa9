import { Box, Button, List, Text } from "@chakra-ui/react";
import { Refusal } from "../api/client";
import { t } from "./t";

/** What went wrong, in the server's words, with each place to mend. */
export function Notice({ error, retry }: { error: unknown; retry?: () => void }) {
  const refusal = error instanceof Refusal ? error : null;
  return (
    <Box
      role="alert"
      bg="bg.error"
      borderLeftWidth="3px"
      borderColor="rust"
      px="3"
      py="2"
      mt="2"
      fontSize="sm"
    >
      <Text fontWeight="600">
        {refusal?.message ?? t("app.somethingWentWrongOnThisPageReload")}
      </Text>
      {refusal && refusal.problems.length > 0 && (
        <List.Root mt="1" ps="4">
          {refusal.problems.map((p) => (
            <List.Item key={`${p.row}|${p.column}|${p.field}|${p.message}`}>
              {p.row !== null && p.row !== undefined && (
                <Text as="span" fontWeight="600">
                  {t("app.row", {
                    row: p.row,
                    column: p.column && t("app.column", { column: p.column }),
                  })}{" "}
                </Text>
              )}
              {p.message}
            </List.Item>
          ))}
        </List.Root>
      )}
      {retry && (
        <Button size="xs" variant="outline" mt="2" onClick={retry}>
          {t("app.tryAgain")}
        </Button>
      )}
    </Box>
  );
}
