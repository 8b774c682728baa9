import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { LinkButton } from "../app/LinkButton";
import { Notice } from "../app/Notice";
import { t } from "./t";
import { useSignedIn } from "../session/context";
import { useChecklist, useSkipStep, type ChecklistStep } from "./queries";
import { isOpen, OPTIONAL, STEPS } from "./steps";

/** What is still to be set up, until all of it is done or said not to be needed. */
export function Checklist() {
  const { farm, may } = useSignedIn();
  const sets = may("set_up_ground");
  const list = useChecklist(farm.slug, sets);
  const skip = useSkipStep(farm.slug);
  const steps = list.data;
  if (!sets || !steps?.some(isOpen)) return null;
  const next = steps.find(isOpen)?.step;
  const settled = steps.filter((s) => !isOpen(s)).length;
  return (
    <Box
      as="section"
      aria-labelledby="checklist"
      bg="sheet"
      borderWidth="1px"
      borderColor="rule"
      p="4"
      mb="6"
      maxW="860px"
    >
      <Flex justify="space-between" align="baseline" wrap="wrap" gap="2">
        <Heading as="h2" id="checklist" size="lg">
          {t("checklist.setUpTheFarm")}
        </Heading>
        <Text color="inkSoft" fontSize="sm">
          {t("checklist.doneOf", { done: settled, of: steps.length })}
        </Text>
      </Flex>
      <Box as="ol" listStyleType="none" p="0" mt="2">
        {steps.map((step) => (
          <Line
            key={step.step}
            step={step}
            isNext={step.step === next}
            skip={(skipped) => skip.mutate({ step: step.step, skipped })}
          />
        ))}
      </Box>
      {skip.error && <Notice error={skip.error} />}
    </Box>
  );
}

interface LineProps {
  step: ChecklistStep;
  isNext: boolean;
  skip: (skipped: boolean) => void;
}

function Line({ step, isNext, skip }: LineProps) {
  const { farm } = useSignedIn();
  const words = STEPS[step.step];
  const open = isOpen(step);
  return (
    <Flex as="li" gap="3" py="2" borderTopWidth="1px" borderColor="rule" align="start">
      <Text as="span" w="5" fontWeight="700" aria-hidden="true">
        {step.done ? "✓" : step.skipped ? "–" : "○"}
      </Text>
      <Box flex="1" minW="0">
        <Text fontWeight={isNext ? "700" : "500"} color={open ? "ink" : "inkSoft"}>
          {words.title}
          <Text as="span" color="inkSoft" fontWeight="400" fontSize="sm">
            {" "}
            {status(step)}
          </Text>
        </Text>
        {open && (
          <Text fontSize="sm" color="inkSoft">
            {words.purpose} {words.without}
          </Text>
        )}
      </Box>
      <Flex gap="3" align="center" flexShrink="0">
        {open && words.path !== null && (
          <Button asChild size="xs" variant={isNext ? "solid" : "outline"}>
            <Link to={`/${farm.slug}/${words.path}`}>{words.action}</Link>
          </Button>
        )}
        {!step.done && OPTIONAL.has(step.step) && (
          <LinkButton
            fontSize="sm"
            aria-label={
              step.skipped
                ? t("checklist.needAfterAll", { title: words.title })
                : t("checklist.doWithout", { title: words.title })
            }
            onClick={() => skip(!step.skipped)}
          >
            {step.skipped ? t("checklist.undo") : t("checklist.notNeeded")}
          </LinkButton>
        )}
      </Flex>
    </Flex>
  );
}

function status(step: ChecklistStep): string {
  if (step.skipped && !step.done) return t("checklist.notNeededStatus");
  if (!step.done) return "";
  return step.of === null || step.count >= step.of
    ? t("checklist.done")
    : t("checklist.doneFor", { count: step.count, of: step.of });
}
