import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { FactRows } from "../app/FactRows";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { number, withUnit, type UnitSystem } from "../units/format";
import { LessWaterSheet } from "./LessWaterSheet";
import { useLessWater, type DeficitSaid, type LessWater } from "./queries";
import { t } from "./t";

interface Props {
  block: { id: number; name: string };
  said: DeficitSaid | null;
}

/** The plan of less water: what each stage gets, what is due, and what it leaves of the yield. */
export function DeficitFacts({ block, said }: Props) {
  const { farm, units, may } = useSignedIn();
  const plan = useLessWater(farm.slug, block.id);
  const [editing, setEditing] = useState(false);
  const planned = plan.data?.plan;
  return (
    <Box as="section" aria-labelledby="less-water" mb="6">
      <Flex justify="space-between" align="baseline" gap="3">
        <Heading as="h2" id="less-water" size="lg">
          {t("deficit.lessWater")}
        </Heading>
        {may("set_up_ground") && planned && (
          <Button size="xs" variant="outline" onClick={() => setEditing(true)}>
            {t("deficit.edit")}
          </Button>
        )}
      </Flex>
      {editing && planned && (
        <LessWaterSheet block={block} plan={planned} close={() => setEditing(false)} />
      )}
      {plan.error && <Notice error={plan.error} retry={() => void plan.refetch()} />}
      {planned && <FactRows rows={rows(planned, said, units)} />}
      <Text fontSize="sm" color="inkSoft" mt="1">
        {t("deficit.yieldNote")}
      </Text>
    </Box>
  );
}

function rows(plan: LessWater, said: DeficitSaid | null, units: UnitSystem): [string, string][] {
  const out: [string, string][] = plan.stages.map((s) => [
    t(`stage.${s.stage}`),
    s.use_share === null
      ? t("deficit.refillAt", { share: number((s.allowed ?? 0) * 100, 0) })
      : t("deficit.shareOfEtc", { share: number(s.use_share * 100, 0) }),
  ]);
  if (!said) return out;
  if (said.due_mm !== null && said.application_mm !== null) {
    out.push([
      t("deficit.dueNow"),
      t("deficit.dueOf", {
        due: withUnit(said.due_mm, units, "water"),
        application: withUnit(said.application_mm, units, "water"),
      }),
    ]);
  }
  out.push([
    t("deficit.yieldExpected"),
    said.yield_share === null
      ? t("deficit.unknown")
      : t("deficit.percent", { share: number(said.yield_share * 100, 0) }),
  ]);
  return out;
}
