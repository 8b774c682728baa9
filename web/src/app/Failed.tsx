import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { t } from "./t";

/** The last resort when a page can't be drawn. */
export function Failed() {
  return (
    <Box p="8">
      <Heading as="h1" size="xl">
        {t("app.thisPageCouldNotBeShown")}
      </Heading>
      <Text mt="2" mb="4">
        {t("app.nothingYouEnteredElsewhereIsLost")}
      </Text>
      <Button onClick={() => window.location.reload()}>{t("app.reload")}</Button>
    </Box>
  );
}
