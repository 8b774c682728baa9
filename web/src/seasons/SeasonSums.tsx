import { Table } from "@chakra-ui/react";
import { shownDay } from "../time/enteredDate";
import { number, withUnit, type UnitSystem } from "../units/format";
import { courseName } from "./words";
import type { Course } from "./queries";
import { t } from "./t";

type Row = [name: string, of: (course: Course, last: number) => string];

function rows(units: UnitSystem): Row[] {
  const water = (mm: number | null | undefined) => withUnit(mm ?? null, units, "water");
  return [
    [t("seasons.planted"), (c) => shownDay(c.planted_on)],
    [t("seasons.days"), (_, last) => number(last + 1, 0)],
    [t("seasons.rain"), ({ totals }, k) => water(totals.rain_mm[k])],
    [t("seasons.irrigations"), ({ totals }, k) => number(totals.irrigations[k], 0)],
    [t("seasons.irrigated"), ({ totals }, k) => water(totals.irrigation_gross_mm[k])],
    [t("seasons.used"), ({ totals }, k) => water(totals.used_mm[k])],
    [t("seasons.drained"), ({ totals }, k) => water(totals.drained_mm[k])],
    [t("seasons.wettings"), ({ totals }, k) => number(totals.wettings[k], 0)],
    [t("seasons.passed"), ({ totals }, k) => water(totals.passed_mm[k])],
    [t("seasons.belowRefill"), ({ totals }, k) => number(totals.below_refill_days[k], 0)],
  ];
}

interface Props {
  courses: Course[];
  units: UnitSystem;
  /** Up to the day that all of them have reached, not to the last of each. */
  alike: boolean;
}

/** What came, what was used and what was lost in each season. */
export function SeasonSums({ courses, units, alike }: Props) {
  const shortest = Math.min(...courses.map((c) => c.depletion_mm.length));
  const lastOf = (c: Course) => (alike ? shortest : c.depletion_mm.length) - 1;
  return (
    <Table.ScrollArea tabIndex={0} mt="4" maxW={{ base: "100%", lg: "860px" }}>
      <Table.Root size="sm" bg="transparent">
        <Table.Caption captionSide="top" textAlign="start" px="0">
          {alike ? t("seasons.sumsAlike", { days: shortest }) : t("seasons.sums")}
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
                  {of(c, lastOf(c))}
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}
