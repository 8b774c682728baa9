import { Dialog, Portal } from "@chakra-ui/react";
import type { ReactNode } from "react";

interface Props {
  title: string;
  close: () => void;
  footer: ReactNode;
  children: ReactNode;
  size?: "sm" | "lg";
}

/** A sheet laid over the page; Escape and a click beside it put it away. */
export function Sheet({ title, close, footer, children, size = "sm" }: Props) {
  return (
    <Dialog.Root open onOpenChange={(e) => !e.open && close()} size={size}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet">
            <Dialog.Header>
              <Dialog.Title>{title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>{children}</Dialog.Body>
            <Dialog.Footer>{footer}</Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
