import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { number, waterShort } from "../units/format";
import type { BlockData } from "./queries";
import { refillDay } from "./refillDay";
import { t } from "./t";

const NAMES = {
  crop_p: t("block.cropsPAdjustedForEt"),
  flat: t("block.fixedShareOfAvailableWater"),
  tension: t("block.cropsTensionLimit"),
} as const;

interface RefillMethodsProps {
  methods: BlockData["refill_methods"];
  time: FarmTime;
}

/** What each refill point would make of it. */
export function RefillMethods({ methods, time }: RefillMethodsProps) {
  const { units } = useSignedIn();
  if (methods.length === 0) return null;
  return (
    <Box as="section" mt="6" aria-labelledby="refill-methods">
      <Heading as="h2" id="refill-methods" size="lg">
        {t("block.refillPointByMethod")}
      </Heading>
      <Table.Root size="sm" mt="1" bg="transparent">
        <Table.Body>
          {methods.map((s) => (
            <Table.Row
              key={s.refill_method}
              bg="transparent"
              fontWeight={s.in_force ? "700" : "400"}
              borderColor="rule"
            >
              <Table.Cell px="0">
                {NAMES[s.refill_method]}{" "}
                {s.p === null ? t("block.noValue") : `(p ${number(s.p, 2)})`}
                {s.in_force && <Text as="span"> {t("block.inForce")}</Text>}
              </Table.Cell>
              <Table.Cell textAlign="end" px="1" whiteSpace="nowrap">
                {s.p === null ? "–" : refillDay(s.days_left, time)}
              </Table.Cell>
              <Table.Cell textAlign="end" px="0" whiteSpace="nowrap">
                {t("block.net", { net: waterShort(s.net_mm, units) })}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}
