import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { useOutbox, type Queue } from "../outbox/useOutbox";
import { dropRound, keepRound, roundsOf, type UnsentRound } from "./roundStore";
import { sendRounds } from "./sendRounds";
import { t } from "./t";

const ROUNDS: Queue<UnsentRound> = {
  name: "leaf rounds",
  waiting: roundsOf,
  keep: keepRound,
  drop: dropRound,
  send: (slug) => sendRounds(slug),
};

/** Rounds of leaf readings that wait on this phone. */
export function useUnsentRounds() {
  const { farm } = useSignedIn();
  return useOutbox(ROUNDS, farm.slug);
}

/** What of a block's rounds is still on this phone, and why. */
export function UnsentRounds({ block }: { block: number }) {
  const outbox = useUnsentRounds();
  const own = outbox.waiting.filter((u) => u.block.id === block);
  const waits = own.filter((u) => u.refused === "");
  return (
    <Box role="status">
      {waits.length > 0 && (
        <Flex mt="2" gap="3" align="center" wrap="wrap" color="strawInk">
          <Text fontSize="sm">
            {t("leaf.unsent", { count: waits.length })} {outbox.trouble}
          </Text>
          <Button size="xs" variant="outline" onClick={() => void outbox.send()}>
            {t("leaf.sendNow")}
          </Button>
        </Flex>
      )}
      {own
        .filter((u) => u.refused !== "")
        .map((u) => (
          <Flex key={u.key} mt="2" gap="3" align="center" wrap="wrap" color="rust">
            <Text fontSize="sm">
              {t("leaf.refused", { count: u.round.leaves.length, why: u.refused })}
            </Text>
            <Button size="xs" variant="outline" onClick={() => void outbox.drop(u.key)}>
              {t("leaf.discardRound")}
            </Button>
          </Flex>
        ))}
    </Box>
  );
}
