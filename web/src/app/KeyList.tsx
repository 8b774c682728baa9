import { Button, Kbd, Table } from "@chakra-ui/react";
import { Sheet } from "./Sheet";

const KEYS: [string, string][] = [
  ["j or ↓", "next block on the board"],
  ["k or ↑", "block before it"],
  ["Enter", "open the block"],
  ["b", "back to the board"],
  ["g", "the ground: blocks, map, soils, crops"],
  ["n", "new block"],
  ["l", "on a block: wall or lines"],
  ["u", "metric or US units"],
  ["d", "dark or light"],
  ["?", "this list"],
];

/** The list of all keys. */
export default function KeyList({ close }: { close: () => void }) {
  const footer = (
    <Button size="sm" variant="outline" onClick={close}>
      Close
    </Button>
  );
  return (
    <Sheet title="Keys" close={close} footer={footer}>
      <Table.Root size="sm" variant="line">
        <Table.Body>
          {KEYS.map(([key, what]) => (
            <Table.Row key={key} bg="transparent">
              <Table.Cell>
                <Kbd>{key}</Kbd>
              </Table.Cell>
              <Table.Cell>{what}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Sheet>
  );
}
