import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { number, waterShort } from "../units/format";
import type { BlockData } from "./queries";

const NAMES = {
  crop_p: "crop's p, adjusted for ET",
  flat: "flat share of the available",
  tension: "tension limit of the crop",
} as const;

const LEADERS = {
  blend: "sensors and balance weighed",
  sensors: "sensors lead",
  balance: "balance leads",
} as const;

function refillDay(days: number | null, time: FarmTime): string {
  if (days === null) return "beyond a month";
  return days === 0 ? "now" : time.day(time.at(days * 24));
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
        What others would say
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
                {NAMES[s.school]} {s.p === null ? "(none given)" : `(p ${number(s.p, 2)})`}
                {s.in_force && <Text as="span"> · in force</Text>}
              </Table.Cell>
              <Table.Cell textAlign="end" px="1" whiteSpace="nowrap">
                {s.p === null ? "–" : refillDay(s.days_left, time)}
              </Table.Cell>
              <Table.Cell textAlign="end" px="0" whiteSpace="nowrap">
                {waterShort(s.net_mm, units)} net
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
                {w.in_force && <Text as="span"> · in force</Text>}
              </Table.Cell>
              <Table.Cell textAlign="end" px="1" whiteSpace="nowrap">
                {w.deficit_mm === null ? "no word" : refillDay(w.days_left, time)}
              </Table.Cell>
              <Table.Cell textAlign="end" px="0" whiteSpace="nowrap">
                {w.deficit_mm === null ? "" : `${waterShort(w.deficit_mm, units)} short`}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}
