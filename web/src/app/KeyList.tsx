import { Button, Kbd, Table } from "@chakra-ui/react";
import { Sheet } from "./Sheet";

const KEYS: [string, string][] = [
  ["j or ↓", "next block on the board"],
  ["k or ↑", "block before it"],
  ["Enter", "open the block"],
  ["a", "on a line: give what is advised"],
  ["e", "on a line: another time or amount"],
  ["x", "on a line: not now, with a reason"],
  ["z", "on a line: take the decision back"],
  ["f", "find a block on the board"],
  ["b", "back to the board"],
  ["w", "water: sets, weather, the morning"],
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
