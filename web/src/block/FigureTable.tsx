import { Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { figure, measure, type UnitSystem } from "../units/format";
import { t } from "./t";

export interface Column<Row> {
  heading: string;
  /** A depth of water: its unit is told in the heading. */
  water?: true;
  /** Left out where it is nothing on every day. */
  of?: (row: Row) => number;
  cell: (row: Row, units: UnitSystem) => string;
}

/** A column of a depth of water; with `ifAny` it is left out where it is nothing on every day. */
export function waterColumn<Row>(
  heading: string,
  of: (row: Row) => number | null,
  ifAny?: "ifAny",
): Column<Row> {
  const cell = (row: Row, units: UnitSystem) => fineWater(of(row), units);
  return { heading, water: true, cell, ...(ifAny && { of: (row: Row) => of(row) ?? 0 }) };
}

/** The unit of a column, on a line of its own under the heading. */
export function Unit({ of }: { of: string }) {
  return (
    <Text as="span" display="block" fontWeight="400" color="inkSoft">
      {of}
    </Text>
  );
}

interface Props<Row> {
  columns: Column<Row>[];
  rows: Row[];
  day: (row: Row) => string;
  late?: (row: Row) => boolean;
}

const NOTHING = 0.005;

/** A depth of water with a digit more than elsewhere, so that a sum of several has its last right. */
export function fineWater(mm: number | null | undefined, units: UnitSystem): string {
  return figure(mm, units, "water", measure(units, "water").digits + 1);
}

/** Days down, figures across. */
export function FigureTable<Row extends { day: number }>({ columns, rows, day, late }: Props<Row>) {
  const { units } = useSignedIn();
  const unit = measure(units, "water").label;
  const shown = columns.filter(
    (c) => !c.of || rows.some((r) => Math.abs(c.of?.(r) ?? 0) >= NOTHING),
  );
  return (
    <Table.ScrollArea tabIndex={0}>
      <Table.Root size="sm" bg="transparent">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="1.5" verticalAlign="top">
              {t("block.day")}
            </Table.ColumnHeader>
            {shown.map((c) => (
              <Table.ColumnHeader
                key={c.heading}
                px="1.5"
                whiteSpace="nowrap"
                textAlign="end"
                verticalAlign="top"
              >
                {c.heading} {c.water && <Unit of={unit} />}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.map((r) => (
            <Table.Row key={r.day} bg="transparent" color={late?.(r) ? "rust" : "ink"}>
              <Table.Cell px="1.5" whiteSpace="nowrap">
                {day(r)}
              </Table.Cell>
              {shown.map((c) => (
                <Table.Cell key={c.heading} px="1.5" textAlign="end">
                  {c.cell(r, units)}
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}
