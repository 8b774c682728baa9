import { Box, Button, Text } from "@chakra-ui/react";
import { useRef } from "react";
import { t } from "./t";

interface Props {
  accept: string;
  file: File | null;
  choose: (file: File) => void;
  label?: string;
}

/** Chooses a file, and says which one. */
export function FileButton({ accept, file, choose, label = t("form.chooseAFile") }: Props) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <Box>
      <Button size="sm" variant="outline" onClick={() => picker.current?.click()}>
        {file ? t("form.chooseAnotherFile") : label}
      </Button>
      {file && (
        <Text as="span" ms="3" fontWeight="600" fontSize="sm">
          {file.name}
        </Text>
      )}
      <input
        ref={picker}
        type="file"
        hidden
        accept={accept}
        onChange={(e) => {
          const next = e.target.files?.[0];
          if (next) choose(next);
          // So that the same file, mended, can be chosen again.
          e.target.value = "";
        }}
      />
    </Box>
  );
}
