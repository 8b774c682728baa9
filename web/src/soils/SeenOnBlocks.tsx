import { Box, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { useSignedIn } from "../session/context";
import { measure } from "../units/format";
import { seenWords } from "./ProfileDrawing";
import type { SeenOnBlock } from "./queries";
import { t } from "./t";

/** The full points that sensors have shown, with a way to the page where they can be adopted. */
export function SeenOnBlocks({ seen }: { seen: readonly SeenOnBlock[] }) {
  const { farm, units } = useSignedIn();
  return (
    <Box fontSize="xs" mt="2">
      <Text fontWeight="600">
        {t("soils.fullPointsSeen", { unit: measure(units, "theta").label })}
      </Text>
      {seen.map((s) => (
        <Text key={`${s.block_id}-${s.index}`}>
          {t("soils.horizon", { index: s.index + 1 })} ·{" "}
          <Link to={`/${farm.slug}/blocks/${s.block_id}/limits`}>{seenWords(s)}</Link>
        </Text>
      ))}
    </Box>
  );
}
