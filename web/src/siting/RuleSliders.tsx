import { Box, Button, Text } from "@chakra-ui/react";
import { Slide } from "../form/Slide";
import { number } from "../units/format";
import type { Rule, RuleFacts } from "./rules";
import { t } from "./t";

interface Props {
  rules: RuleFacts[];
  values: Partial<Record<Rule, number>>;
  change: (values: Partial<Record<Rule, number>>) => void;
  fixed: boolean;
}

/** A slider for each rule, at the usual value until a person moves it. */
export function RuleSliders({ rules, values, change, fixed }: Props) {
  return (
    <>
      {rules.map((r) => {
        const value = values[r.rule] ?? r.usual;
        const digits = r.step < 0.1 ? 2 : r.step < 1 ? 1 : 0;
        return (
          <Box key={r.rule} mb="3">
            <Slide
              label={r.label}
              value={value}
              change={(to) => change({ ...values, [r.rule]: to })}
              min={r.low}
              max={r.high}
              step={r.step}
              words={`${number(value, digits)} ${r.unit}`}
              disabled={fixed}
            />
            <Text fontSize="xs" color="inkSoft">
              {r.help}
            </Text>
          </Box>
        );
      })}
      {!fixed && Object.keys(values).length > 0 && (
        <Button size="xs" variant="outline" onClick={() => change({})}>
          {t("siting.usualRules")}
        </Button>
      )}
    </>
  );
}
