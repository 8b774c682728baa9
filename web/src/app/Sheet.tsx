import { Dialog, Portal } from "@chakra-ui/react";
import { lazy, Suspense, useContext, type ReactNode, type SyntheticEvent } from "react";
import { SignedInContext } from "../session/context";

const StopButton = lazy(async () => ({
  default: (await import("../valves/StopButton")).StopButton,
}));

interface Props {
  title: string;
  close: () => void;
  footer: ReactNode;
  children: ReactNode;
  size?: "sm" | "lg";
  /** Makes it a form, sent by Enter in an input or by a button of the footer. */
  submit?: () => void;
}

/** A sheet laid over the page, and over the emergency stop in its head: it has one of its own. Escape and a click beside it put it away. */
export function Sheet({ title, close, footer, children, size = "sm", submit }: Props) {
  const signedIn = useContext(SignedInContext);
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
            <Dialog.Header justifyContent="space-between" gap="3">
              <Dialog.Title>{title}</Dialog.Title>
              {signedIn?.farm.valve_control && (
                <Suspense fallback={null}>
                  <StopButton />
                </Suspense>
              )}
            </Dialog.Header>
            <Dialog.Body>{children}</Dialog.Body>
            <Dialog.Footer>{footer}</Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
