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

interface SchoolsProps {
  schools: BlockData["schools"];
  time: FarmTime;
}

/** What each refill point would make of it. */
export function Schools({ schools, time }: SchoolsProps) {
  const { units } = useSignedIn();
  if (schools.length === 0) return null;
  return (
    <Box as="section" mt="6" aria-labelledby="schools">
      <Heading as="h2" id="schools" size="lg">
        {t("block.refillPointByMethod")}
      </Heading>
      <Table.Root size="sm" mt="1" bg="transparent">
        <Table.Body>
          {schools.map((s) => (
            <Table.Row
              key={s.school}
              bg="transparent"
              fontWeight={s.in_force ? "700" : "400"}
              borderColor="rule"
            >
              <Table.Cell px="0">
                {NAMES[s.school]} {s.p === null ? t("block.noValue") : `(p ${number(s.p, 2)})`}
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
