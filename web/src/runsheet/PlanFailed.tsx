import { Box, Text } from "@chakra-ui/react";
import { t } from "./t";

/** The last plan could not be made; what there was before stands. */
export function PlanFailed({ incident }: { incident: string }) {
  return (
    <Box role="alert" bg="bg.error" borderLeftWidth="3px" borderColor="rust" px="3" py="2" my="2">
      <Text fontSize="sm">{t("runsheet.planFailed", { incident })}</Text>
    </Box>
  );
}
