import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { t } from "./t";

/** Files that show what is taken; they ship with the interface. */
export type Sample =
  | "readings.csv"
  | "weather-days.csv"
  | "laboratory.csv"
  | "worksheet.csv"
  | "blocks.geojson"
  | "soil-survey.geojson"
  | "water-supply.csv";

interface Props {
  accept: string;
  file: File | null;
  choose: (file: File) => void;
  label?: string;
  /** Offered to download, and to try as if it had been chosen. */
  sample?: Sample;
}

/** Chooses a file, and says which one. */
export function FileButton({ accept, file, choose, label = t("form.chooseAFile"), sample }: Props) {
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
      {sample && !file && <SampleLinks sample={sample} choose={choose} />}
    </Box>
  );
}

/** A file of the kind that is taken: to look at, and to see what becomes of it. */
function SampleLinks({ sample, choose }: { sample: Sample; choose: (file: File) => void }) {
  const [failed, setFailed] = useState(false);
  const address = `/samples/${sample}`;
  const tryIt = async () => {
    const answer = await fetch(address).catch(() => null);
    setFailed(!answer?.ok);
    if (answer?.ok) choose(new File([await answer.blob()], sample));
  };
  return (
    <Flex align="baseline" gap="3" mt="1" fontSize="sm">
      <a href={address} download>
        {t("form.downloadASample")}
      </a>
      <Button size="xs" variant="ghost" onClick={() => void tryIt()}>
        {t("form.tryTheSample")}
      </Button>
      {failed && <Text color="rust">{t("form.sampleNotLoaded")}</Text>}
    </Flex>
  );
}
