import { Button, Table } from "@chakra-ui/react";
import { useState } from "react";
import type { FarmTime } from "../time/farmTime";
import type { UnitSystem } from "../units/format";
import { LinkButton } from "../app/LinkButton";
import { amount, began, reached, recovered, source } from "./describe";
import type { Wetting } from "./queries";
import { t } from "./t";

interface Props {
  wettings: Wetting[];
  chosen: number | null;
  choose: (id: number) => void;
  time: FarmTime;
  units: UnitSystem;
}

/** So many of the newest are shown at first. */
const NEWEST = 6;
const HEADINGS = [
  t("wettings.began"),
  t("wettings.from"),
  t("wettings.applied"),
  t("wettings.depthReached"),
  t("wettings.found"),
  t("wettings.passed"),
];

/** Events of one instrument, newest first; each opens its facts. */
export function WettingTable({ wettings, chosen, choose, time, units }: Props) {
  const [every, setEvery] = useState(false);
  const rows = wettings.toReversed();
  const shown = every ? rows : rows.slice(0, NEWEST);
  return (
    <>
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              {HEADINGS.map((h, i) => (
                <Table.ColumnHeader key={h} px="1" textAlign={i > 1 ? "end" : "start"}>
                  {h}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {shown.map((w) => (
              <Table.Row key={w.id} bg={w.id === chosen ? "bed" : "transparent"}>
                <Table.Cell px="1" whiteSpace="nowrap">
                  <LinkButton aria-pressed={w.id === chosen} onClick={() => choose(w.id)}>
                    {began(w, time)}
                  </LinkButton>
                </Table.Cell>
                <Table.Cell px="1">{source(w)}</Table.Cell>
                <Table.Cell px="1" textAlign="end" whiteSpace="nowrap">
                  {amount(w.given_mm, null, units)}
                </Table.Cell>
                <Table.Cell px="1" textAlign="end" whiteSpace="nowrap">
                  {reached(w, units)}
                </Table.Cell>
                <Table.Cell px="1" textAlign="end" whiteSpace="nowrap">
                  {recovered(w)}
                </Table.Cell>
                <Table.Cell px="1" textAlign="end" whiteSpace="nowrap">
                  {amount(w.passed_mm, null, units)}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      {rows.length > NEWEST && (
        <Button size="xs" variant="outline" mt="2" onClick={() => setEvery(!every)}>
          {every ? t("wettings.showFewer") : t("wettings.showEvery", { count: rows.length })}
        </Button>
      )}
    </>
  );
}
