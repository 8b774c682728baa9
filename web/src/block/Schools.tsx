import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { number, waterShort } from "../units/format";
import type { BlockData } from "./queries";
import { t } from "./t";

const NAMES = {
  crop_p: t("block.cropsPAdjustedForEt"),
  flat: t("block.fixedShareOfAvailableWater"),
  tension: t("block.cropsTensionLimit"),
} as const;

const LEADERS = {
  blend: t("block.sensorsAndWaterBalanceCombined"),
  sensors: t("block.sensorsOnly"),
  balance: t("block.waterBalanceOnly"),
} as const;

function refillDay(days: number | null, time: FarmTime): string {
  if (days === null) return t("block.inMoreThanAMonth");
  return days === 0 ? t("block.now") : time.day(time.at(days * 24));
}

interface SchoolsProps {
  schools: BlockData["schools"];
  weighings: BlockData["weighings"];
  time: FarmTime;
}

/** What the other schools would have said. */
export function Schools({ schools, weighings, time }: SchoolsProps) {
  const { units } = useSignedIn();
  if (schools.length === 0) return null;
  return (
    <Box as="section" mt="6" aria-labelledby="schools">
      <Heading as="h2" id="schools" size="lg">
        {t("block.otherMethods")}
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
          {weighings.map((w) => (
            <Table.Row
              key={w.weighing}
              bg="transparent"
              fontWeight={w.in_force ? "700" : "400"}
              borderColor="rule"
            >
              <Table.Cell px="0">
                {LEADERS[w.weighing]}
                {w.in_force && <Text as="span"> {t("block.inForce")}</Text>}
              </Table.Cell>
              <Table.Cell textAlign="end" px="1" whiteSpace="nowrap">
                {w.deficit_mm === null ? t("block.noData") : refillDay(w.days_left, time)}
              </Table.Cell>
              <Table.Cell textAlign="end" px="0" whiteSpace="nowrap">
                {w.deficit_mm === null
                  ? ""
                  : t("block.deficit2", { deficit: waterShort(w.deficit_mm, units) })}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}
