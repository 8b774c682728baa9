import { Box, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { t } from "../language/t";

export function NotFound() {
  return (
    <Box p="8">
      <Heading as="h1" size="xl">
        {t("app.nothingHere")}
      </Heading>
      <Text mt="2">
        {t("app.thisAddressLeadsNowhere")} <Link to="/">{t("app.backToTheBoard")}</Link>
      </Text>
    </Box>
  );
}
