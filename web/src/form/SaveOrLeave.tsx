import { Button } from "@chakra-ui/react";

interface Props {
  close: () => void;
  save: () => void;
  words: string;
  pending: boolean;
  disabled?: boolean;
}

/** The foot of a sheet: leave it, or do what it is for. */
export function SaveOrLeave({ close, save, words, pending, disabled = false }: Props) {
  return (
    <>
      <Button variant="ghost" size="sm" onClick={close}>
        Cancel
      </Button>
      <Button size="sm" loading={pending} disabled={disabled} onClick={save}>
        {words}
      </Button>
    </>
  );
}
