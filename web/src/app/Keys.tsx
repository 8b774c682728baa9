import { Button, Dialog, Kbd, Portal, Table } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { useSignedIn } from "../session/context";
import { usePreferences } from "../session/queries";

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

function typing(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && /^(INPUT|SELECT|TEXTAREA)$/.test(target.tagName);
}

/** Keys that work on every page, and the list of all. */
export function Keys() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const { farm, person, may } = useSignedIn();
  const { mutate: prefer } = usePreferences();

  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (typing(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      const dark = document.documentElement.classList.contains("dark");
      if (event.key === "?") setOpen(true);
      else if (event.key === "b") void navigate(`/${farm.slug}`);
      else if (event.key === "n" && may("set_up_ground")) void navigate(`/${farm.slug}/new-block`);
      else if (event.key === "u") prefer({ units: person.units === "metric" ? "us" : "metric" });
      else if (event.key === "d") prefer({ theme: dark ? "light" : "dark" });
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [navigate, farm.slug, person.units, prefer, may]);

  return (
    <Dialog.Root open={open} onOpenChange={(e) => setOpen(e.open)} size="sm">
      <Dialog.Trigger asChild>
        <Button
          variant="ghost"
          size="sm"
          px="2"
          aria-label="Keys"
          display={{ base: "none", md: "inline-flex" }}
        >
          ? keys
        </Button>
      </Dialog.Trigger>
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
              <Dialog.CloseTrigger asChild>
                <Button size="sm" variant="outline" position="static">
                  Close
                </Button>
              </Dialog.CloseTrigger>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
