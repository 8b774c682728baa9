import { Button } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { Sheet } from "../app/Sheet";
import { t } from "./t";

interface Props {
  title: string;
  close: () => void;
  /** What the sheet is for: by its button, or by Enter in one of its inputs. */
  save: () => void;
  words: string;
  pending: boolean;
  disabled?: boolean;
  size?: "sm" | "lg";
  /** Another thing that can be done with what is shown, before the two buttons. */
  other?: ReactNode;
  /** Buttons once it is done, where there is something to be seen then. In the same sheet: one that
      opens as another closes is closed with it. */
  done?: ReactNode;
  children: ReactNode;
}

/** A form laid over the page: leave it, or do what it is for. */
export function FormSheet(props: Props) {
  const {
    title,
    close,
    save,
    words,
    pending,
    disabled = false,
    size,
    other,
    done,
    children,
  } = props;
  return (
    <Sheet
      title={title}
      close={close}
      {...(size && { size })}
      submit={() => {
        if (!pending && !disabled && !done) save();
      }}
      footer={
        done || (
          <>
            {other}
            <Button variant="ghost" size="sm" onClick={close}>
              {t("form.cancel")}
            </Button>
            <Button type="submit" size="sm" loading={pending} disabled={disabled}>
              {words}
            </Button>
          </>
        )
      }
    >
      {children}
    </Sheet>
  );
}
