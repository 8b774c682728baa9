import { Box, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { t } from "./t";

/** What to watch for where a step can hurt someone. */
export function CautionNote({ title, children }: { title?: string; children: ReactNode }) {
  return (
    <Box
      role="note"
      borderLeftWidth="3px"
      borderColor="rust"
      ps="3"
      my="3"
      fontSize="sm"
      maxW="85ch"
    >
      {title && <Text fontWeight="600">{title}</Text>}
      <Text>
        {children} {t("app.localCodesAndLicensedPracticeTake")}
      </Text>
    </Box>
  );
}
