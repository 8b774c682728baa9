import { Box, Button, Heading, Text } from "@chakra-ui/react";

/** The last resort when a page can't be drawn. */
export function Failed() {
  return (
    <Box p="8">
      <Heading as="h1" size="xl">
        This page could not be shown
      </Heading>
      <Text mt="2" mb="4">
        Nothing you entered elsewhere is lost. Load the page again; if it happens twice, tell
        whoever looks after Even Furrow what you did.
      </Text>
      <Button onClick={() => window.location.reload()}>Load again</Button>
    </Box>
  );
}
