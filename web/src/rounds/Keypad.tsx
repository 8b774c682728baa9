import { Button, Grid } from "@chakra-ui/react";
import { Delete } from "lucide-react";
import { t } from "./t";

const KEYS = ["7", "8", "9", "back", "4", "5", "6", ".", "1", "2", "3", "0"];

interface Props {
  press: (key: string) => void;
  /** Leaf potentials and water below the surface are negative. */
  minus: boolean;
}

/** Big keys for a thumb in sunlight. */
export function Keypad({ press, minus }: Props) {
  return (
    <Grid templateColumns="repeat(4, 1fr)" gap="2" role="group" aria-label={t("rounds.keys")}>
      {KEYS.map((key) => (
        <Button
          key={key}
          variant="outline"
          bg="sheet"
          h="58px"
          fontSize="2xl"
          aria-label={key === "back" ? t("rounds.deleteTheLastDigit") : undefined}
          onClick={() => press(key)}
        >
          {key === "back" ? <Delete aria-hidden /> : key}
        </Button>
      ))}
      {minus && (
        <Button
          variant="outline"
          bg="sheet"
          h="44px"
          gridColumn="1 / -1"
          onClick={() => press("minus")}
        >
          + / −
        </Button>
      )}
    </Grid>
  );
}
