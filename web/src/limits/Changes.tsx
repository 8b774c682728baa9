import { Box, Button, Heading, Table, Text } from "@chakra-ui/react";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { useUndo, type BlockLimits, type Change } from "./queries";
import { REFILL_METHOD_NAMES, valueSaid } from "./words";
import { shownDay } from "../time/enteredDate";
import { useFarmTime } from "../time/useFarmTime";
import { t } from "./t";

function what(c: Change): string {
  if (c.kind === "soil") return t("limits.soil2", { soil: c.soil });
  const method = c.refill_method ?? "crop_p";
  return t("limits.refillBy", {
    method: REFILL_METHOD_NAMES[method],
    valueSaid: valueSaid(method, c.value),
    stage: c.stage ? t("limits.in", { stage: t(`stage.${c.stage}`) }) : "",
  });
}

/** Every change of the limits: from when, by whom, why; undone ones stay on record. */
export function Changes({ limits }: { limits: BlockLimits }) {
  const { farm, may } = useSignedIn();
  const undo = useUndo(farm.slug, limits.block_id);
  const time = useFarmTime();
  return (
    <Box as="section" aria-labelledby="changes" mt="6">
      <Heading as="h2" id="changes" size="lg">
        {t("limits.changes")}
      </Heading>
      {undo.error && <Notice error={undo.error} />}
      <Table.Root size="sm" bg="transparent" mt="1">
        <Table.Body>
          {limits.changes.map((c) => (
            <Table.Row
              key={`${c.kind}${c.id}`}
              bg="transparent"
              color={c.undone_at ? "inkSoft" : "ink"}
            >
              <Table.Cell px="0" whiteSpace="nowrap" verticalAlign="top">
                {c.from_on ? shownDay(c.from_on) : t("limits.always")}
              </Table.Cell>
              <Table.Cell px="2" verticalAlign="top">
                <Text as="span" textDecoration={c.undone_at ? "line-through" : "none"}>
                  {what(c)}
                </Text>
                <Text fontSize="xs" color="inkSoft">
                  {[c.reason || t("limits.noReasonGiven"), c.made_by].filter(Boolean).join(" · ")},{" "}
                  {time?.dayWithYear(new Date(c.made_at))}
                  {c.undone_at && time && (
                    <>
                      {" "}
                      {t("limits.undoneBy", {
                        undoneBy: c.undone_by || t("limits.someone"),
                        on: time.dayWithYear(new Date(c.undone_at)),
                      })}
                    </>
                  )}
                </Text>
              </Table.Cell>
              <Table.Cell px="0" textAlign="end" verticalAlign="top">
                {may("set_up_ground") && !c.undone_at && (
                  <Button
                    size="xs"
                    variant="ghost"
                    aria-label={t("limits.undo2", { what: what(c) })}
                    onClick={() => undo.mutate(c)}
                  >
                    {t("limits.undo")}
                  </Button>
                )}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}
