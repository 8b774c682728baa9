import { Box, Text } from "@chakra-ui/react";
import { actionWords, stateWords } from "../answer/words";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import type { UnitSystem } from "../units/format";
import { useWhatIf, type WhatIfIn, type WhatIfOut } from "../whatif/queries";
import { t } from "./t";

function adviceWords(found: WhatIfOut | undefined, units: UnitSystem): string {
  if (!found) return "…";
  const time = new FarmTime(found.now, found.time_zone);
  return `${stateWords(found.answer, time)} · ${actionWords(found.answer, time, units)}`;
}

const AS_IT_IS: WhatIfIn = { no_set: false, et_factor: 1 };

/** Today's advice as it is, and as it would be with what is about to be adopted. */
export function AdviceThen({ block, change }: { block: number; change: Partial<WhatIfIn> }) {
  const { farm, units } = useSignedIn();
  const now = useWhatIf(farm.slug, block, AS_IT_IS);
  const then = useWhatIf(farm.slug, block, { ...AS_IT_IS, ...change });
  const error = now.error ?? then.error;
  return (
    <Box role="status" borderTopWidth="1px" borderColor="rule" pt="2" mt="3">
      <Text fontSize="sm" color="inkSoft">
        {t("limits.todaysAdvice")}
      </Text>
      <Text>{adviceWords(now.data, units)}</Text>
      <Text fontSize="sm" color="inkSoft" mt="1">
        {t("limits.todaysAdviceThen")}
      </Text>
      <Text fontWeight="600">
        {adviceWords(then.isPlaceholderData ? undefined : then.data, units)}
      </Text>
      {error && <Notice error={error} />}
    </Box>
  );
}
