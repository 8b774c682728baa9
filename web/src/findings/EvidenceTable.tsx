import { Table, Text } from "@chakra-ui/react";
import type { FarmTime } from "../time/farmTime";
import type { UnitSystem } from "../units/format";
import type { Finding } from "./queries";
import { t } from "./t";
import { evidenceFigure, placeWords } from "./words";

interface Props {
  finding: Finding;
  time: FarmTime;
  units: UnitSystem;
}

/** Everything that a finding rests on: when, where, what was seen and what was to be expected. */
export function EvidenceTable({ finding, time, units }: Props) {
  return (
    <Table.ScrollArea mt="2" tabIndex={0}>
      <Table.Root size="sm" aria-label={`${t("findings.evidence")}: ${finding.name}`}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>{t("findings.when")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("findings.where")}</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">{t("findings.seen")}</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">{t("findings.expected")}</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {finding.evidence.map((e) => (
            <Table.Row key={`${e.from_at}|${e.instrument}|${String(e.depth_mm)}|${String(e.seen)}`}>
              <Table.Cell whiteSpace="nowrap">{span(e.from_at, e.to_at, time)}</Table.Cell>
              <Table.Cell>{placeWords(e, units)}</Table.Cell>
              <Table.Cell textAlign="end" whiteSpace="nowrap">
                <Text as="span" color="inkSoft">
                  {t(`findings.${e.figure}`)}{" "}
                </Text>
                {evidenceFigure(e.figure, e.seen, units)}
              </Table.Cell>
              <Table.Cell textAlign="end" whiteSpace="nowrap">
                {evidenceFigure(e.figure, e.expected, units)}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}

/** "3 Jul 16:00 – 4 Jul 2:00", the second day only where it is another one. */
function span(from: string, to: string, time: FarmTime): string {
  const [first, last] = [new Date(from), new Date(to)];
  const begin = `${time.date(first)} ${time.clock(first)}`;
  if (first.getTime() === last.getTime()) return begin;
  const end = time.date(first) === time.date(last) ? "" : `${time.date(last)} `;
  return `${begin} – ${end}${time.clock(last)}`;
}
