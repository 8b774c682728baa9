import { Box, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { Step } from "./queries";
import { HEADS, STEP_TERMS, inFigures, inSymbols, shown, title } from "./steps";
import { Term } from "../glossary/Term";
import { t } from "./t";

/** The advice as a worksheet: each line unfolds to its formula, its figures and their sources. */
export function Working({ steps }: { steps: Step[] }) {
  if (steps.length === 0) return null;
  return (
    <Box as="section" aria-labelledby="working">
      <Heading as="h2" id="working" size="lg">
        {t("block.howThisWasCalculated")}
      </Heading>
      <Text color="inkSoft" fontSize="sm" mb="2">
        {t("block.openARowToSeeHowIt")}
      </Text>
      {steps.map((step) => (
        <StepLine key={`${step.key}${step.result}`} step={step} />
      ))}
    </Box>
  );
}

function StepLine({ step }: { step: Step }) {
  const { units } = useSignedIn();
  const head = HEADS.has(step.key);
  const term = STEP_TERMS[step.key];
  return (
    <Box asChild borderTopWidth={head ? "2px" : "1px"} borderColor={head ? "loam" : "rule"}>
      <details>
        <Flex
          asChild
          justify="space-between"
          gap="3"
          py="1"
          cursor="pointer"
          fontWeight={head ? "700" : "400"}
          _hover={{ bg: "bed" }}
        >
          <summary>
            <span>{title(step)}</span>
            <Text as="span" whiteSpace="nowrap">
              {shown(step.value, step.unit, units)}
            </Text>
          </summary>
        </Flex>
        <Box fontSize="sm" pb="2" ps="3" borderLeftWidth="2px" borderColor="water" mb="1">
          <Text>
            {inSymbols(step)}
            {term && <Term of={term} />}
          </Text>
          <Text>{inFigures(step, units)}</Text>
          {step.formula.includes("within(") && <Text color="inkSoft">{t("block.keptWithin")}</Text>}
          <Table.Root size="sm" mt="1" bg="transparent">
            <Table.Body>
              {step.terms.map((one) => (
                <Table.Row key={one.symbol} bg="transparent">
                  <Table.Cell px="0" py="0.5" verticalAlign="top" fontStyle="italic" w="14">
                    {one.symbol}
                  </Table.Cell>
                  <Table.Cell px="1" py="0.5" verticalAlign="top" whiteSpace="nowrap">
                    {shown(one.value, one.unit, units)}
                  </Table.Cell>
                  <Table.Cell px="1" py="0.5" color="inkSoft">
                    {one.source}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Box>
      </details>
    </Box>
  );
}
