import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState, type ReactNode } from "react";
import { CutSheet } from "../cuts/CutSheet";
import { LessWaterSheet } from "../deficit/LessWaterSheet";
import { useLeaf } from "../leaf/queries";
import { SteeringSheet } from "../leaf/SteeringSheet";
import { useSignedIn } from "../session/context";
import type { BlockData } from "./queries";
import { t } from "./t";

type Rule = "leaf" | "deficit" | "cuts";

/** Other rules by which the block could be watered than the one in force. */
export function OtherRules({ block }: { block: BlockData }) {
  const { farm, may } = useSignedIn();
  const [open, setOpen] = useState<Rule | null>(null);
  const leaf = useLeaf(farm.slug, block.id);
  if (!may("set_up_ground") || !block.crop) return null;
  const close = () => setOpen(null);
  const regime = block.answer.regime;
  const suits = leaf.data?.products.some((p) => p.suits) ?? false;
  const offered: [Rule, boolean, string][] = [
    ["leaf", suits && regime !== "leaf_guided", t("block.steerByLeaf")],
    ["deficit", regime === "above_refill", t("block.lessWaterByPlan")],
    ["cuts", block.is_cut && regime !== "cut_or_grazed", t("block.calendarOfCuts")],
  ];
  const shown = offered.filter(([, holds]) => holds);
  if (shown.length === 0) return null;
  const sheets: Record<Rule, ReactNode> = {
    leaf: leaf.data && <SteeringSheet block={block} leaf={leaf.data} close={close} />,
    deficit: <LessWaterSheet block={block} plan={null} close={close} />,
    cuts: <CutSheet block={block} plan={null} close={close} />,
  };
  return (
    <Box mt="6">
      <Text fontWeight="700">{t("block.otherRules")}</Text>
      <Flex gap="2" wrap="wrap" mt="1">
        {shown.map(([rule, , words]) => (
          <Button key={rule} size="xs" variant="outline" onClick={() => setOpen(rule)}>
            {words}
          </Button>
        ))}
      </Flex>
      {open && sheets[open]}
    </Box>
  );
}
