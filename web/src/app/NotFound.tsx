import { Box, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { t } from "./t";

export function NotFound() {
  return (
    <Box p="8">
      <Heading as="h1" size="xl">
        {t("app.pageNotFound")}
      </Heading>
      <Text mt="2">
        {t("app.thereIsNoPageAtThisAddress")} <Link to="/">{t("app.backToTheBoard")}</Link>
      </Text>
    </Box>
  );
}
