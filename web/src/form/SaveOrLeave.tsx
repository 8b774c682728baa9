import { Button } from "@chakra-ui/react";
import { t } from "./t";

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
        {t("form.cancel")}
      </Button>
      <Button size="sm" loading={pending} disabled={disabled} onClick={save}>
        {words}
      </Button>
    </>
  );
}
