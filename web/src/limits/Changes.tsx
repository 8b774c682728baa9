import { Box, Button, Heading, Table, Text } from "@chakra-ui/react";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { useUndo, type BlockLimits, type Change } from "./queries";
import { SCHOOL_NAMES, valueSaid } from "./words";

function what(c: Change): string {
  if (c.kind === "soil") return `soil: ${c.soil}`;
  const school = c.school ?? "crop_p";
  return `refill by ${SCHOOL_NAMES[school]}, ${valueSaid(school, c.value)}${c.stage ? `, in ${c.stage}` : ""}`;
}

/** Every change of the limits: from when, by whom, why; undone ones stay on record. */
export function Changes({ limits }: { limits: BlockLimits }) {
  const { farm, may } = useSignedIn();
  const undo = useUndo(farm.slug, limits.block_id);
  return (
    <Box as="section" aria-labelledby="changes" mt="6">
      <Heading as="h2" id="changes" size="lg">
        What was changed
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
                {c.from_on ?? "always"}
              </Table.Cell>
              <Table.Cell px="2" verticalAlign="top">
                <Text as="span" textDecoration={c.undone_at ? "line-through" : "none"}>
                  {what(c)}
                </Text>
                <Text fontSize="xs" color="inkSoft">
                  {[c.reason || "no reason given", c.made_by].filter(Boolean).join(" · ")},{" "}
                  {c.made_at.slice(0, 10)}
                  {c.undone_at &&
                    ` · undone by ${c.undone_by || "someone"}, ${c.undone_at.slice(0, 10)}`}
                </Text>
              </Table.Cell>
              <Table.Cell px="0" textAlign="end" verticalAlign="top">
                {may("set_up_ground") && !c.undone_at && (
                  <Button
                    size="xs"
                    variant="ghost"
                    aria-label={`Undo ${what(c)}`}
                    onClick={() => undo.mutate(c)}
                  >
                    Undo
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
