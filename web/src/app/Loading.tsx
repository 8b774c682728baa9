import { Flex, Spinner, Text } from "@chakra-ui/react";

export function Loading({ what }: { what: string }) {
  return (
    <Flex align="center" gap="3" p="8" color="inkSoft" role="status">
      <Spinner size="sm" color="water" />
      <Text>{what}</Text>
    </Flex>
  );
}
