import { IconButton, Popover, Portal, Text } from "@chakra-ui/react";
import { t } from "./t";
import { TERMS, type TermKey } from "./terms";

/** A "?" beside a term: opens what it means, its symbol and its unit. */
export function Term({ of }: { of: TermKey }) {
  const { symbol, unit } = TERMS[of];
  const name = t(`glossary.${of}Name`);
  return (
    <Popover.Root lazyMount unmountOnExit>
      <Popover.Trigger asChild>
        <IconButton
          variant="outline"
          size="2xs"
          rounded="full"
          minW="4"
          h="4"
          ms="1"
          fontSize="xs"
          verticalAlign="middle"
          aria-label={t("glossary.whatIs", { name })}
        >
          ?
        </IconButton>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content maxW="300px" bg="sheet">
            <Popover.Body>
              <Popover.Title fontWeight="700">
                {name}
                {symbol && `, ${symbol}`}
                {unit && unit !== "–" && ` (${unit})`}
              </Popover.Title>
              <Text mt="1" fontSize="sm">
                {t(`glossary.${of}Meaning`)}
              </Text>
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}
