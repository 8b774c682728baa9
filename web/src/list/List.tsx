import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { useRef, useState, type KeyboardEvent, type ReactNode } from "react";
import { Choice, Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { fitting, grouped, valuesOf, type Facet } from "./narrow";
import { t } from "./t";

export interface Column<Row> {
  key: string;
  label: ReactNode;
  /** Figures stand at the end. */
  end?: boolean;
  cell: (row: Row) => ReactNode;
}

/** Rows picked for one change of all of them. */
export interface Picking<Row, Key> {
  label: string;
  name: (row: Row) => string;
  picked: ReadonlySet<Key>;
  change: (picked: ReadonlySet<Key>) => void;
}

interface Props<Row, Key> {
  rows: readonly Row[];
  keyOf: (row: Row) => Key;
  columns: readonly Column<Row>[];
  find: { label: string; text: (row: Row) => string };
  facets?: readonly Facet<Row>[];
  picking?: Picking<Row, Key> | undefined;
  /** Other ways to narrow the list down, beside the search. */
  tools?: ReactNode;
  /** What can be done here, at the right. */
  actions?: ReactNode;
  /** What is said above the rows shown, and done with those picked of them. */
  summary: (shown: Row[]) => ReactNode;
  noMatch: string;
  isSoft?: (row: Row) => boolean;
}

/** A list of up to some hundred rows: found, narrowed down, put in groups, picked. The first column
 * names the row; arrow keys go from name to name, and the space bar picks. */
export function List<Row, Key extends string | number>({
  rows,
  keyOf,
  columns,
  find,
  facets = [],
  picking,
  tools,
  actions,
  summary,
  noMatch,
  isSoft,
}: Props<Row, Key>) {
  const [typed, setTyped] = useState("");
  const [values, setValues] = useState<Record<string, string>>({});
  const [by, setBy] = useState("");
  const body = useRef<HTMLTableSectionElement>(null);
  const shown = fitting(rows, { find: typed, values }, find.text, facets);
  const groups = grouped(
    shown,
    facets.find((f) => f.label === by),
  );
  const pick = (row: Row, on: boolean) => {
    const next = new Set(picking?.picked);
    if (on) next.add(keyOf(row));
    else next.delete(keyOf(row));
    picking?.change(next);
  };
  const width = columns.length + (picking ? 1 : 0);
  return (
    <>
      <Flex gap="3" align="end" wrap="wrap" mb="3">
        <Box w={{ base: "100%", sm: "240px" }}>
          <Line label={find.label} type="search" value={typed} change={setTyped} />
        </Box>
        {facets.map((f) => (
          <Box key={f.label} w={{ base: "calc(50% - 6px)", sm: "170px" }}>
            <Choice
              label={f.label}
              value={values[f.label] ?? ""}
              change={(value) => setValues({ ...values, [f.label]: value })}
            >
              <option value="">{f.every}</option>
              {valuesOf(rows, f).map((value) => (
                <option key={value} value={value}>
                  {f.words ? f.words(value) : value}
                </option>
              ))}
            </Choice>
          </Box>
        ))}
        {facets.length > 0 && (
          <Box w={{ base: "calc(50% - 6px)", sm: "140px" }}>
            <Choice label={t("list.groupBy")} value={by} change={setBy}>
              <option value="">{t("list.none")}</option>
              {facets.map((f) => (
                <option key={f.label} value={f.label}>
                  {f.label}
                </option>
              ))}
            </Choice>
          </Box>
        )}
        {tools}
        {actions && (
          <Flex gap="2" ml="auto" wrap="wrap" justify="end">
            {actions}
          </Flex>
        )}
      </Flex>
      <Flex gap="4" align="center" mb="2" minH="32px" aria-live="polite">
        {summary(shown)}
      </Flex>
      {shown.length === 0 ? (
        <Text mt="3">{noMatch}</Text>
      ) : (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                {picking && (
                  <Table.ColumnHeader px="0" w="34px" minW="34px">
                    <Tick
                      hideLabel
                      label={picking.label}
                      on={shown.every((row) => picking.picked.has(keyOf(row)))}
                      change={(on) => picking.change(new Set(on ? shown.map(keyOf) : []))}
                    />
                  </Table.ColumnHeader>
                )}
                {columns.map((c, i) => (
                  <Table.ColumnHeader
                    key={c.key}
                    {...(i === 0 && { px: "0" })}
                    {...(c.end && { textAlign: "end" })}
                  >
                    {c.label}
                  </Table.ColumnHeader>
                ))}
              </Table.Row>
            </Table.Header>
            <Table.Body ref={body} onKeyDown={(event) => walk(event, body.current)}>
              {groups.flatMap((group) => [
                group.name && (
                  <Table.Row key={`group ${group.name}`} bg="transparent">
                    <Table.ColumnHeader
                      scope="rowgroup"
                      colSpan={width}
                      px="0"
                      pt="4"
                      fontWeight="700"
                    >
                      {t("list.rows", { name: group.name, count: group.rows.length })}
                    </Table.ColumnHeader>
                  </Table.Row>
                ),
                ...group.rows.map((row) => {
                  const on = picking?.picked.has(keyOf(row)) ?? false;
                  return (
                    <Table.Row
                      key={keyOf(row)}
                      bg={on ? "bedAhead" : "transparent"}
                      color={isSoft?.(row) ? "inkSoft" : "ink"}
                    >
                      {picking && (
                        <Table.Cell px="0">
                          <Tick
                            hideLabel
                            label={picking.name(row)}
                            on={on}
                            change={(v) => pick(row, v)}
                          />
                        </Table.Cell>
                      )}
                      {columns.map((c, i) => (
                        <Table.Cell
                          key={c.key}
                          {...(i === 0 && { px: "0", fontWeight: "600", "data-name": "" })}
                          {...(c.end && { textAlign: "end" })}
                        >
                          {c.cell(row)}
                        </Table.Cell>
                      ))}
                    </Table.Row>
                  );
                }),
              ])}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
    </>
  );
}

/** From the name of a row to the next or the one before; the space bar picks its row. */
function walk(event: KeyboardEvent, body: HTMLElement | null) {
  const at = event.target as HTMLElement;
  if (!body || at.tagName !== "A" || !at.closest("[data-name]")) return;
  const names = [...body.querySelectorAll<HTMLElement>("[data-name] a")];
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (step !== undefined) {
    event.preventDefault();
    names[names.indexOf(at) + step]?.focus();
  } else if (event.key === " ") {
    const box = at.closest("tr")?.querySelector<HTMLInputElement>("input[type=checkbox]");
    if (!box) return;
    event.preventDefault();
    box.click();
  }
}
