import { Box, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";

export function NotFound() {
  return (
    <Box p="8">
      <Heading as="h1" size="xl">
        Nothing here
      </Heading>
      <Text mt="2">
        This address leads nowhere. <Link to="/">Back to the board</Link>
      </Text>
    </Box>
  );
}
