import { Box, Flex, Text } from "@chakra-ui/react";
import { trustedShare } from "./words";

/** Share of readings trusted, as a filled rod with its figure. */
export function TrustBar({ share }: { share: number | null }) {
  return (
    <Flex align="center" gap="2">
      <Box w="72px" h="8px" bg="bed" borderRadius="4px" overflow="hidden" aria-hidden>
        {share !== null && <Box h="100%" w={`${share * 100}%`} bg="waterMid" />}
      </Box>
      <Text as="span" whiteSpace="nowrap">
        {trustedShare(share)}
      </Text>
    </Flex>
  );
}
