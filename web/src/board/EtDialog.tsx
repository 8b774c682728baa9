import { Button, Dialog, Field, Flex, Input, Portal, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { forForm, measure, typed } from "../units/format";
import { useStateEt, type StatedEt } from "./queries";

const PARTS = ["low", "expected", "high"] as const;

/** States another ET0 for the days ahead, or goes back to the recorded weather. */
export default function EtDialog({
  et,
  slug,
  close,
}: {
  et: StatedEt | null;
  slug: string;
  close: () => void;
}) {
  const { units } = useSignedIn();
  const save = useStateEt(slug);
  const [text, setText] = useState(() => ({
    low: forForm(et?.low, units, "waterDay"),
    expected: forForm(et?.expected, units, "waterDay"),
    high: forForm(et?.high, units, "waterDay"),
  }));
  return (
    <Dialog.Root open onOpenChange={(e) => !e.open && close()} size="sm">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet">
            <Dialog.Header>
              <Dialog.Title>Reference ET for the days ahead</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Text fontSize="sm" color="inkSoft" mb="4">
                On the grass reference surface (ET0), in {measure(units, "waterDay").label}. Low and
                high draw the ribbon's range. An alfalfa value is about a fifth to a third higher:
                do not enter it here.
              </Text>
              <Flex gap="3">
                {PARTS.map((part) => (
                  <Field.Root key={part}>
                    <Field.Label>{part}</Field.Label>
                    <Input
                      inputMode="decimal"
                      value={text[part]}
                      onChange={(e) => setText({ ...text, [part]: e.target.value })}
                    />
                  </Field.Root>
                ))}
              </Flex>
              {save.error && <Notice error={save.error} />}
            </Dialog.Body>
            <Dialog.Footer>
              <Button
                variant="ghost"
                size="sm"
                onClick={() =>
                  save.mutate({ low: null, expected: null, high: null }, { onSuccess: close })
                }
              >
                Use recorded weather
              </Button>
              <Button
                size="sm"
                loading={save.isPending}
                onClick={() =>
                  save.mutate(
                    {
                      low: typed(text.low, units, "waterDay"),
                      expected: typed(text.expected, units, "waterDay"),
                      high: typed(text.high, units, "waterDay"),
                    },
                    { onSuccess: close },
                  )
                }
              >
                State it
              </Button>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
