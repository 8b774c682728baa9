import { Button } from "@chakra-ui/react";

interface Props {
  words: string;
  pending: boolean;
  press: () => void;
}

/** The button of a sheet that takes away what the sheet describes. */
export function RemoveButton({ words, pending, press }: Props) {
  return (
    <Button variant="ghost" size="sm" color="rust" loading={pending} onClick={press}>
      {words}
    </Button>
  );
}
