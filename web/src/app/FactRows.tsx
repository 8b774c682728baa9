import { Table } from "@chakra-ui/react";

/** Facts under one another: what it is, and what it amounts to. */
export function FactRows({ rows }: { rows: [string, string][] }) {
  return (
    <Table.Root size="sm" bg="transparent" mt="1">
      <Table.Body>
        {rows.map(([words, value]) => (
          <Table.Row key={words} bg="transparent">
            <Table.Cell px="0" color="inkSoft">
              {words}
            </Table.Cell>
            <Table.Cell px="0" textAlign="end">
              {value}
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
