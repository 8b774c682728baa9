import { Box } from "@chakra-ui/react";
import { LinkButton } from "../app/LinkButton";
import { t } from "./t";

/** Takes a part away, before the buttons of its form; nothing where it is a new one. */
export function RemovePart({ remove }: { remove: (() => void) | null }) {
  if (!remove) return null;
  return (
    <Box flex="1">
      <LinkButton onClick={remove}>{t("supply.remove")}</LinkButton>
    </Box>
  );
}
