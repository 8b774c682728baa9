import { Button, Dialog, Kbd, Portal, Table } from "@chakra-ui/react";

const KEYS: [string, string][] = [
  ["j or ↓", "next block on the board"],
  ["k or ↑", "block before it"],
  ["Enter", "open the block"],
  ["b", "back to the board"],
  ["n", "new block"],
  ["l", "on a block: wall or lines"],
  ["u", "metric or US units"],
  ["d", "dark or light"],
  ["?", "this list"],
];

/** The list of all keys. */
export default function KeyList({ close }: { close: () => void }) {
  return (
    <Dialog.Root open onOpenChange={(e) => !e.open && close()} size="sm">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet">
            <Dialog.Header>
              <Dialog.Title>Keys</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
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
            </Dialog.Body>
            <Dialog.Footer>
              <Button size="sm" variant="outline" onClick={close}>
                Close
              </Button>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
