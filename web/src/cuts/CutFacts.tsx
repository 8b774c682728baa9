import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { CutSheet } from "./CutSheet";
import { useCutPlan, type CutPlan, type Harvests } from "./queries";
import { t } from "./t";

interface Props {
  block: { id: number; name: string };
  said: Harvests | null;
}

/** The cuts or grazings ahead: dry from, cut on, water again from. */
export function CutFacts({ block, said }: Props) {
  const { farm, may } = useSignedIn();
  const plan = useCutPlan(farm.slug, block.id);
  const [editing, setEditing] = useState(false);
  const settled = plan.data?.plan;
  return (
    <Box as="section" aria-labelledby="cuts" mb="6">
      <Flex justify="space-between" align="baseline" gap="3">
        <Heading as="h2" id="cuts" size="lg">
          {settled?.harvested === "grazed" ? t("cuts.grazings") : t("cuts.cuts")}
        </Heading>
        {may("set_up_ground") && settled && (
          <Button size="xs" variant="outline" onClick={() => setEditing(true)}>
            {t("cuts.edit")}
          </Button>
        )}
      </Flex>
      {editing && settled && (
        <CutSheet block={block} plan={settled} close={() => setEditing(false)} />
      )}
      {plan.error && <Notice error={plan.error} retry={() => void plan.refetch()} />}
      {settled && <Text fontSize="sm">{ruleWords(settled)}</Text>}
      {said && said.ahead.length > 0 ? (
        <Table.Root size="sm" bg="transparent" mt="1">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("cuts.dryFrom")}</Table.ColumnHeader>
              <Table.ColumnHeader>
                {said.harvested === "grazed" ? t("cuts.stockComes") : t("cuts.cutOn")}
              </Table.ColumnHeader>
              <Table.ColumnHeader>{t("cuts.waterFrom")}</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {said.ahead.map((h) => (
              <Table.Row key={h.on} bg="transparent">
                <Table.Cell px="0">{shownDay(h.dry_from)}</Table.Cell>
                <Table.Cell fontWeight="700">{shownDay(h.on)}</Table.Cell>
                <Table.Cell>
                  {h.water_from === h.water_from_early
                    ? shownDay(h.water_from)
                    : t("cuts.betweenDays", {
                        early: shownDay(h.water_from_early),
                        late: shownDay(h.water_from),
                      })}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      ) : (
        <Text color="inkSoft" fontSize="sm">
          {t("cuts.noneAhead")}
        </Text>
      )}
      <Text fontSize="sm" color="inkSoft" mt="1">
        {t("cuts.holdsNote")}
      </Text>
    </Box>
  );
}

function ruleWords(plan: CutPlan): string {
  if (plan.rotation) return t("cuts.inRotation", { rotation: plan.rotation, place: plan.place });
  if (plan.every_days !== null) return t("cuts.everyDays", { days: plan.every_days });
  return t("cuts.onSettledDays");
}
