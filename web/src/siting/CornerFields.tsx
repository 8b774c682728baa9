import { Box, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Line } from "../form/Labelled";
import { cornerOf, cornerText, type Corner } from "./corner";
import { t } from "./t";

const CORNERS = [
  t("siting.upperLeft"),
  t("siting.upperRight"),
  t("siting.lowerRight"),
  t("siting.lowerLeft"),
];

interface Props {
  corners: Corner[];
  change: (corners: Corner[]) => void;
  fixed: boolean;
  error: string | undefined;
}

/** Where the corners of a picture lie that does not say so itself. */
export function CornerFields({ corners, change, fixed, error }: Props) {
  const [texts, setTexts] = useState(CORNERS.map((_, i) => cornerText(corners[i])));
  function put(place: number, text: string) {
    const next = texts.map((old, i) => (i === place ? text : old));
    setTexts(next);
    const read = next.map(cornerOf).filter((c) => c !== null);
    change(read.length === CORNERS.length ? read : []);
  }
  return (
    <Box gridColumn="1 / -1">
      <Text fontSize="sm" mb="2">
        {t("siting.cornersHelp")}
      </Text>
      <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr", md: "repeat(4, 1fr)" }} gap="3">
        {CORNERS.map((label, i) => (
          <Line
            key={label}
            label={label}
            value={texts[i] ?? ""}
            change={(text) => put(i, text)}
            placeholder="56.4012, 3.0511"
            disabled={fixed}
            error={
              texts[i] && cornerOf(texts[i]) === null
                ? t("siting.noCorner")
                : i === 0
                  ? error
                  : undefined
            }
          />
        ))}
      </Grid>
    </Box>
  );
}
