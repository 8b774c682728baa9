import { Button, type ButtonProps } from "@chakra-ui/react";

/** A button that reads as part of a sentence. */
export function LinkButton(props: ButtonProps) {
  return (
    <Button
      variant="plain"
      size="sm"
      h="auto"
      p="0"
      minW="0"
      textDecoration="underline"
      verticalAlign="baseline"
      {...props}
    />
  );
}
