import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { useSignedIn } from "../session/context";
import { t } from "./t";

interface Props {
  title: string;
  action?: ReactNode;
  /** What the page is for, in a sentence or two. */
  children: ReactNode;
}

/** The head of a page that lies behind the instruments. */
export function BehindInstruments({ title, action, children }: Props) {
  const { farm } = useSignedIn();
  return (
    <>
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/farm/instruments`}>{t("instruments.instruments")}</Link>
      </Text>
      <Flex justify="space-between" align="end" gap="3" wrap="wrap" mb="3">
        <Box>
          <Heading as="h2" size="xl">
            {title}
          </Heading>
          <Text color="inkSoft" maxW="72ch">
            {children}
          </Text>
        </Box>
        {action}
      </Flex>
    </>
  );
}
