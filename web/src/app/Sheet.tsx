import { Dialog, Portal } from "@chakra-ui/react";
import type { ReactNode, SyntheticEvent } from "react";

interface Props {
  title: string;
  close: () => void;
  footer: ReactNode;
  children: ReactNode;
  size?: "sm" | "lg";
  /** Makes it a form, sent by Enter in an input or by a button of the footer. */
  submit?: () => void;
}

/** A sheet laid over the page; Escape and a click beside it put it away. */
export function Sheet({ title, close, footer, children, size = "sm", submit }: Props) {
  const form = submit && {
    as: "form" as const,
    onSubmit: (event: SyntheticEvent) => {
      event.preventDefault();
      submit();
    },
  };
  return (
    <Dialog.Root open onOpenChange={(e) => !e.open && close()} size={size}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet" {...form}>
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
