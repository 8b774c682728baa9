import { Text } from "@chakra-ui/react";
import { LinkButton } from "../app/LinkButton";
import type { useVisits } from "./useVisits";
import { t } from "./t";

/** What is still on this phone, in one line. */
export function OutboxLine({ outbox }: { outbox: ReturnType<typeof useVisits> }) {
  const count = outbox.waiting.length;
  return (
    <Text fontSize="sm" role="status" color={count > 0 ? "strawInk" : "inkSoft"}>
      {count === 0 ? (
        t("rounds.allSent")
      ) : (
        <>
          {t("rounds.unsent", { count })}{" "}
          <LinkButton fontSize="sm" onClick={() => void outbox.send()}>
            {t("rounds.sendNow")}
          </LinkButton>
        </>
      )}
    </Text>
  );
}
