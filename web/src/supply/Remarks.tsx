import { Box } from "@chakra-ui/react";
import type { Remark, Supply } from "./queries";
import { t } from "./t";

const WORDS: Record<Remark["remark"], (name: string, blocks: string) => string> = {
  "no supply": (_, blocks) => t("supply.remarkNoSupply", { blocks }),
  "not described": (name, blocks) => t("supply.remarkNotDescribed", { name, blocks }),
  "no flow": (name) => t("supply.remarkNoFlow", { name }),
  "above source": (name, blocks) => t("supply.remarkAboveSource", { name, blocks }),
  "above main": (name, blocks) => t("supply.remarkAboveMain", { name, blocks }),
  "below smallest": (name, blocks) => t("supply.remarkBelowSmallest", { name, blocks }),
};

/** What of the description stands in the way of planning, or leaves something out of it. */
export function Remarks({ supply }: { supply: Supply }) {
  if (supply.remarks.length === 0) return null;
  return (
    <Box as="ul" mt="3" ps="4" borderLeftWidth="3px" borderColor="straw" fontSize="sm">
      {supply.remarks.map((r) => (
        <li key={`${r.remark}${r.name}`}>{WORDS[r.remark](r.name, r.blocks.join(", "))}</li>
      ))}
    </Box>
  );
}
