import { Table } from "@chakra-ui/react";
import { shownDay } from "../time/enteredDate";
import { number, withUnit, type UnitSystem } from "../units/format";
import { courseName } from "./words";
import type { Course } from "./queries";
import { t } from "./t";

type Row = [name: string, of: (course: Course) => string];

function rows(units: UnitSystem): Row[] {
  const water = (mm: number | null) => withUnit(mm, units, "water");
  return [
    [t("seasons.planted"), (c) => shownDay(c.planted_on)],
    [t("seasons.days"), (c) => number(c.depletion_mm.length, 0)],
    [t("seasons.rain"), (c) => water(c.totals.rain_mm)],
    [t("seasons.irrigations"), (c) => number(c.totals.irrigations, 0)],
    [t("seasons.irrigated"), (c) => water(c.totals.irrigation_gross_mm)],
    [t("seasons.used"), (c) => water(c.totals.used_mm)],
    [t("seasons.drained"), (c) => water(c.totals.drained_mm)],
    [t("seasons.wettings"), (c) => number(c.totals.wettings, 0)],
    [t("seasons.passed"), (c) => water(c.totals.passed_mm)],
    [t("seasons.stress"), (c) => number(c.totals.stress_days, 0)],
  ];
}

/** What came, what was used and what was lost in each season. */
export function SeasonSums({ courses, units }: { courses: Course[]; units: UnitSystem }) {
  return (
    <Table.ScrollArea tabIndex={0} mt="4" maxW="860px">
      <Table.Root size="sm" bg="transparent">
        <Table.Caption captionSide="top" textAlign="start" px="0">
          {t("seasons.sums")}
        </Table.Caption>
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("seasons.season")}</Table.ColumnHeader>
            {courses.map((c) => (
              <Table.ColumnHeader key={c.season_id} textAlign="end">
                {courseName(c)}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows(units).map(([name, of]) => (
            <Table.Row key={name} bg="transparent">
              <Table.Cell px="0" asChild>
                <th scope="row" style={{ fontWeight: 400 }}>
                  {name}
                </th>
              </Table.Cell>
              {courses.map((c) => (
                <Table.Cell key={c.season_id} textAlign="end">
                  {of(c)}
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}
